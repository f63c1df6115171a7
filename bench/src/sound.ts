import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import type { Profile } from '@old-echo/core/desk/profile';
import { type State, withSettings } from '@old-echo/core/desk/state';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { measureLoudness } from '@old-echo/core/sound/loudness-meter';
import { buildRenderGraph, type StemInput } from '@old-echo/core/sound/render-graph';
import { makeStems } from '@old-echo/demo/music/make-stems';
import { RenderCache } from '@old-echo/server/sound/render-cache';
import { RenderStream } from '@old-echo/server/sound/render-stream';
import type { StemFile } from '@old-echo/server/sound/stem-file';
import { WorkerPool } from '@old-echo/server/sound/worker-pool';

import { ffmpegMix, mixed, run } from './band-mix';
import { median, print, time, timeInTurn } from './figure';

const RATE = 48_000;
const STRIPS = 24;
/** How often each is done. */
const ROUNDS = 11;

/** The median of a few runs, in ms. */
function took(work: () => void): number {
  return median(
    Array.from({ length: ROUNDS }, () => {
      const start = performance.now();
      work();
      return performance.now() - start;
    }),
  );
}

/** Whole mixes, and mixes in which one strip has changed, in the server's own threads; loudness; all beside FFmpeg. */
export async function sound(profile: Profile): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'old-echo-bench-'));
  const pool = new WorkerPool();
  pool.openAll();
  try {
    const made = makeStems(folder);
    const at = (i: number) => made[i % made.length] ?? made[0];
    const stems: Record<string, StemInput> = {};
    for (let n = 1; n <= STRIPS; n++) {
      const stem = at(n - 1);
      if (stem) stems[`in.${n}`] = { hash: stem.hash, frames: stem.frames, gain: 0 };
    }
    const frames = (made[0]?.frames ?? 0) + 2 * RATE;
    const files = Object.values(stems).map(({ hash }) => join(folder, `${hash}.wav`));
    const recordings = Object.fromEntries(
      made.map(({ hash }): [string, StemFile] => [hash, { file: join(folder, `${hash}.wav`), channels: 1 }]),
    );
    const file = join(folder, 'mix.wav');
    const mix = async (state: State, memory: RenderCache) => {
      const request = { output: 'main.1', solo: null, stems, law: 'constant power', rate: RATE, frames } as const;
      const graph = buildRenderGraph(profile, state, request);
      await new RenderStream(pool, memory, [{ graph, file, part: `${file}.part` }], recordings).run();
      memory.rest();
    };
    const state = mixed(profile, STRIPS);
    const memory = new RenderCache();
    await mix(state, memory);
    const first = readWav(readFileSync(file)).channels;
    const changed = (address: string, value: number) => mix(withSettings(state, { [address]: value }), memory);
    // One after the other in each round, since a machine is faster in one minute than in the next.
    const [full, band, fader] = await timeInTurn(
      [
        () => mix(state, new RenderCache()),
        (round) => changed('in.5/eq/2/gain', 3 + round / 10),
        (round) => changed('in.5/fader/level', -20 + round / 10),
      ],
      ROUNDS,
    );
    const theirs = took(() => ffmpegMix(files));
    const long = `${STRIPS} strips of ${(frames / RATE).toFixed(0)} s`;
    print({
      name: `${long}, four effects, main: a whole mix, at least 20 times as fast as it plays (other: FFmpeg, the same filters and compressors, no effects)`,
      ours: full,
      other: theirs,
      unit: 'ms',
      goal: { most: (frames / RATE / 20) * 1000 },
    });
    for (const [what, ours] of [
      ['a band of one strip changed', band],
      ['one fader moved', fader],
    ] as const)
      print({
        name: `${long}, ${what} (other: the whole mix again)`,
        ours,
        other: full,
        unit: 'ms',
        goal: { ratio: 8 },
      });
    const long24 = join(folder, 'long.wav');
    const longer = first.map((channel) => {
      const repeated = new Float32Array(channel.length * 8);
      for (let i = 0; i < 8; i++) repeated.set(channel, i * channel.length);
      return repeated;
    });
    writeFileSync(long24, writeWav({ rate: RATE, channels: longer }, '24', true));
    print({
      name: `loudness, range and true peak of a WAV file of ${((frames * 8) / RATE).toFixed(0)} s (other: FFmpeg's ebur128)`,
      ours: await time(() => measureLoudness(readWav(readFileSync(long24))), ROUNDS),
      other: took(() => run('ffmpeg', ['-nostdin', '-i', long24, '-af', 'ebur128=peak=true', '-f', 'null', '-'])),
      unit: 'ms',
      goal: { ratio: 1 },
    });
  } finally {
    await pool.close();
    rmSync(folder, { recursive: true });
  }
}
