import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import type { Profile } from '@old-echo/core/desk/profile';
import { defaultState, type SettingsByAddress, type State, withSettings } from '@old-echo/core/desk/state';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { measureLoudness } from '@old-echo/core/sound/loudness';
import { type Channels, render } from '@old-echo/core/sound/render';
import { buildRenderGraph, type StemInput } from '@old-echo/core/sound/render-graph';
import { makeStems } from '@old-echo/demo/music/make-stems';
import { RenderCache } from '@old-echo/server/sound/render-cache';
import { RenderScheduler } from '@old-echo/server/sound/render-scheduler';
import { WorkerPool } from '@old-echo/server/sound/worker-pool';

import { print, time, timeInTurn } from './figure';

const RATE = 48_000;
const STRIPS = 24;
/** How often each is done. */
const ROUNDS = 11;

/** 24 strips with low cut, four bands and a compressor each, a gate on every third, all in two rooms, a hall and an echo. */
function mixed(profile: Profile): State {
  const settings: Record<string, SettingsByAddress[string]> = { 'main.1/fader/level': 0 };
  for (let n = 1; n <= STRIPS; n++) {
    const set = (key: string, value: SettingsByAddress[string]) => (settings[`in.${n}/${key}`] = value);
    set('fader/level', -12 - (n % 7));
    set('routing/main.1', true);
    set('pan/position', ((n * 37) % 160) - 80);
    set('preamp/lowcut/on', true);
    set('eq/on', true);
    for (let band = 1; band <= 4; band++) {
      set(`eq/${band}/on`, true);
      // No two strips are set alike.
      set(`eq/${band}/gain`, (band % 2 === 0 ? 2.5 : -3) + n / 10);
    }
    set('compressor/on', true);
    set('compressor/threshold', -24);
    set('compressor/ratio', 3);
    set('gate/on', n % 3 === 0);
    for (let fx = 1; fx <= 4; fx++) set(`sends/fx.${fx}/level`, -18 - ((n + fx) % 5));
  }
  const kinds = ['room', 'plate', 'hall', 'echo'];
  kinds.forEach((kind, i) => {
    settings[`fx.${i + 1}/inserts/kind`] = kind;
    settings[`fx.${i + 1}/fader/level`] = -6;
    settings[`fx.${i + 1}/routing/main.1`] = true;
  });
  settings['main.1/eq/on'] = true;
  settings['main.1/compressor/on'] = true;
  return withSettings(defaultState(profile), settings);
}

/** The same chain of low cut, bands and compressor on the same files in FFmpeg, summed; without rooms, sends and gates. */
function ffmpegMix(files: readonly string[]): number {
  const bands = [100, 500, 2500, 8000].map((freq, i) => `equalizer=f=${freq}:t=q:w=1:g=${i % 2 === 0 ? -3 : 2.5}`);
  const chain = ['highpass=f=80', ...bands, 'acompressor=threshold=0.063:ratio=3', 'pan=stereo|c0=0.7*c0|c1=0.7*c0'];
  const strips = files.map((_, i) => `[${i}]${chain.join(',')}[s${i}]`);
  const sum = `${files.map((_, i) => `[s${i}]`).join('')}amix=inputs=${files.length}:normalize=0`;
  return took(() =>
    run('ffmpeg', [
      '-nostdin',
      ...files.flatMap((file) => ['-i', file]),
      ...['-filter_complex', `${strips.join(';')};${sum}`, '-f', 'null', '-'],
    ]),
  );
}

function run(program: string, args: readonly string[]): void {
  const { status, stderr } = spawnSync(program, args, { encoding: 'utf8', maxBuffer: 64 * 1024 * 1024 });
  if (status !== 0) throw new Error(`${program}: ${stderr.slice(-500)}`);
}

/** The median of a few runs, in ms. */
function took(work: () => void): number {
  const times = Array.from({ length: ROUNDS }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
  return times.sort((a, b) => a - b)[Math.floor(ROUNDS / 2)] ?? 0;
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
    const recordings = new Map<string, Channels>();
    for (const { hash } of made) {
      const { channels = [] } = await pool.run({ do: 'stem', file: join(folder, `${hash}.wav`), rate: RATE });
      recordings.set(hash, channels);
    }
    const mix = async (state: State, memory: RenderCache) => {
      const request = { output: 'main.1', solo: null, stems, law: 'constant power', rate: RATE, frames } as const;
      const plan = buildRenderGraph(profile, state, request);
      const steps = new RenderScheduler(pool, memory);
      for (const { key } of plan.nodes) memory.get(key);
      const mixed = await render(plan, {
        stem: (hash) => Promise.resolve(recordings.get(hash) ?? []),
        run: (step, inputs) => steps.run(step, inputs, frames, RATE),
        known: (key) => memory.get(key),
      });
      memory.rest();
      return mixed;
    };
    const state = mixed(profile);
    const memory = new RenderCache();
    const first = await mix(state, memory);
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
    const theirs = ffmpegMix(files);
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
    const file = join(folder, 'long.wav');
    const longer = first.map((channel) => {
      const repeated = new Float32Array(channel.length * 8);
      for (let i = 0; i < 8; i++) repeated.set(channel, i * channel.length);
      return repeated;
    });
    writeFileSync(file, writeWav({ rate: RATE, channels: longer }, '24', true));
    print({
      name: `loudness, range and true peak of a WAV file of ${((frames * 8) / RATE).toFixed(0)} s (other: FFmpeg's ebur128)`,
      ours: await time(() => measureLoudness(readWav(readFileSync(file))), ROUNDS),
      other: took(() => run('ffmpeg', ['-nostdin', '-i', file, '-af', 'ebur128=peak=true', '-f', 'null', '-'])),
      unit: 'ms',
      goal: { ratio: 1 },
    });
  } finally {
    await pool.close();
    rmSync(folder, { recursive: true });
  }
}
