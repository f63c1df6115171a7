import { statSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';

import type { Profile } from '@old-echo/core/desk/profile';
import { KeptSums } from '@old-echo/server/sound/kept-sums';
import { RenderCache } from '@old-echo/server/sound/render-cache';
import { RenderStream, type StreamedMix } from '@old-echo/server/sound/render-stream';
import { WorkerPool } from '@old-echo/server/sound/worker-pool';

import { ffmpegMix } from './band-mix';
import { print } from './figure';
import { firstSounds } from './first-sounds';
import { EVERY_STRIP, FRAMES, openLongSession, SECONDS, SESSION, STRIPS } from './long-session';

const MB = 1024 * 1024;
/** How long nothing happens before a server counts as idle, in ms. */
const IDLE_MS = 3000;

/** A hundred stems of six minutes into two mixes; the memory that takes, and the time beside FFmpeg's. */
export async function long(quay: Profile): Promise<void> {
  const pool = new WorkerPool();
  pool.openAll();
  const { folder, files, recordings, mixOf, remove } = openLongSession(quay);
  try {
    await pause(IDLE_MS);
    globalThis.gc?.();
    const idle = process.memoryUsage.rss();
    let most = idle;
    const watching = setInterval(() => (most = Math.max(most, process.memoryUsage.rss())), 50);
    const sums = new KeptSums(folder);
    const work = async (...mixes: StreamedMix[]) => {
      const start = performance.now();
      const kept = { in: sums, of: mixes.map(({ graph }) => graph) };
      await new RenderStream(pool, new RenderCache(), mixes, recordings, { sums: kept }).run();
      return performance.now() - start;
    };
    const one = await work(mixOf({}, 'one.wav'));
    const both = await work(mixOf({}, 'a.wav'), mixOf(EVERY_STRIP, 'b.wav'));
    clearInterval(watching);
    globalThis.gc?.();
    await pause(IDLE_MS);
    const after = process.memoryUsage.rss();
    const start = performance.now();
    ffmpegMix(files);
    const theirs = performance.now() - start;
    await firstSounds({ pool, folder, recordings, mixOf, sums }, { one, both });
    print({
      name: `${SESSION}: a whole mix, at least 15 times as fast as it plays (other: FFmpeg, the same filters and compressors, no effects)`,
      ours: one,
      other: theirs,
      unit: 'ms',
      goal: { most: (SECONDS / 15) * 1000 },
    });
    print({
      name: `${SESSION}: two mixes of which every strip differs, each at least 15 times as fast as it plays (other: one after the other)`,
      ours: both,
      other: 2 * one,
      unit: 'ms',
      goal: { most: (SECONDS / 15) * 1000 },
    });
    print({
      name: `${SESSION}: memory while two mixes are worked out (other: all of the stems in memory)`,
      ours: (most - idle) / MB,
      other: (STRIPS * FRAMES * 4) / MB,
      unit: 'MB',
      goal: { most: 1024 },
    });
    print({
      name: `${SESSION}: memory once that is over (other: the two mixes)`,
      ours: (after - idle) / MB,
      other: (statSync(join(folder, 'a.wav')).size * 2) / MB,
      unit: 'MB',
      goal: { most: 300 },
    });
  } finally {
    await pool.close();
    remove();
  }
}
