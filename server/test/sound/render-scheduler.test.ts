import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { seededRandom } from '@old-echo/core/signal/wav';
import { type Channels, render } from '@old-echo/core/sound/render';
import { buildRenderGraph, type RenderGraph } from '@old-echo/core/sound/render-graph';
import { allocateOutputs, renderStep } from '@old-echo/core/sound/render-node';
import { RenderCache } from '@old-echo/server/sound/render-cache';
import { RenderScheduler } from '@old-echo/server/sound/render-scheduler';
import { createStreamSync, markFailed, newLevel } from '@old-echo/server/sound/samples-ready';
import { WorkerPool } from '@old-echo/server/sound/worker-pool';
import { quay } from '@old-echo/testing/profiles';

/** Long enough for steps to follow one another. */
const [RATE, FRAMES] = [48_000, 50_000];
const STRIPS = 10;
const CHANNEL = FRAMES * Float32Array.BYTES_PER_ELEMENT;

const random = seededRandom(7);
const recording = [Float32Array.from({ length: FRAMES - 700 }, () => random() - 0.5)];

function planOf(moves: SettingsByAddress): RenderGraph {
  const strips = Array.from({ length: STRIPS }, (_, i) => `in.${i + 1}`);
  const set = strips.flatMap((strip, n): [string, number | boolean][] => [
    [`${strip}/fader/level`, -10],
    [`${strip}/compressor/threshold`, -20 - n],
    [`${strip}/sends/fx.1/level`, -15],
    [`${strip}/compressor/on`, true],
  ]);
  const state = withSettings(defaultState(quay), {
    ...Object.fromEntries(set),
    'main.1/fader/level': 0,
    'fx.1/fader/level': 0,
    ...moves,
  });
  const stems = Object.fromEntries(strips.map((strip) => [strip, { hash: 'noise', frames: FRAMES, gain: 0 }]));
  return buildRenderGraph(quay, state, {
    output: 'main.1',
    solo: null,
    stems,
    law: 'linear',
    rate: RATE,
    frames: FRAMES,
  });
}

const bytes = (channels: Channels) => Buffer.concat(channels.map((channel) => Buffer.from(channel.buffer)));
const stem = () => Promise.resolve(recording);

/** By itself, in memory of its own. */
const alone = (plan: RenderGraph): Promise<Channels> =>
  render(plan, {
    stem,
    run: (step, inputs) => {
      const sounds = allocateOutputs(step, (key) => inputs[key]!, FRAMES);
      renderStep(step, (key) => inputs[key]!, sounds, RATE);
      return Promise.resolve({ sounds, done: Promise.resolve() });
    },
    known: () => undefined,
  });

test('whatever memory a mix is worked out in, it is the same: what was there before is never heard', async () => {
  const pool = new WorkerPool();
  pool.openAll();
  try {
    // Too little for two mixes, so that something has to go each time.
    const memory = new RenderCache(20 * CHANNEL, 12 * CHANNEL);
    const steps = new RenderScheduler(pool, memory);
    const rooms = new Set<unknown>();
    let again = 0;
    const mixed = async (plan: RenderGraph) => {
      const made = await render(plan, {
        stem,
        run: async (step, inputs) => {
          const begun = await steps.run(step, inputs, FRAMES, RATE);
          for (const channel of begun.sounds.flat())
            if (rooms.has(channel)) again++;
            else rooms.add(channel);
          return begun;
        },
        known: (key) => memory.get(key),
      });
      const copy = made.map((channel) => Float32Array.from(channel));
      memory.rest();
      return copy;
    };
    const moves = (n: number): SettingsByAddress => ({
      [`in.${(n % STRIPS) + 1}/fader/level`]: -20 + n,
      'fx.1/inserts/predelay': (n * 13) % 90,
      'fx.1/inserts/kind': n % 3 === 0 ? 'echo' : 'room',
    });
    for (const n of [0, 1, 2, 3, 4, 5, 1, 6, 0, 7]) {
      const plan = planOf(moves(n));
      expect(bytes(await mixed(plan)).equals(bytes(await alone(plan)))).toBe(true);
    }
    expect(again).toBeGreaterThan(20);
  } finally {
    await pool.close();
  }
});

test('memory of a sound that had to go is not written over before nobody reads it', () => {
  const memory = new RenderCache(2 * CHANNEL, 2 * CHANNEL);
  const step = planOf({}).nodes.slice(0, 1);
  const inputs = { noise: recording };
  const sounds = ['one', 'two', 'three'].map((key) => ({ key, channels: [new Float32Array(FRAMES)] }));
  for (const { key, channels } of sounds) memory.set(key, channels);
  expect([memory.get('one'), memory.get('three')]).toEqual([undefined, sounds[2]!.channels]);
  const roomOf = (frames: number) => memory.allocateStep(step, inputs, frames)[0]![0];
  const old = sounds[0]!.channels[0];
  expect(roomOf(FRAMES)).not.toBe(old);
  memory.rest();
  // Of other lengths there is none.
  expect(roomOf(FRAMES + 1)).toHaveLength(FRAMES + 1);
  expect(roomOf(FRAMES)).toBe(old);
  expect(roomOf(FRAMES)).not.toBe(old);
});

test('no more memory is held ready than was agreed, however much had to go', () => {
  const memory = new RenderCache(CHANNEL, 3 * CHANNEL);
  const gone: Float32Array[] = Array.from({ length: 20 }, () => new Float32Array(FRAMES));
  gone.forEach((channel, i) => memory.set(`sound ${i}`, [channel]));
  memory.rest();
  const steps = Array.from({ length: 20 }, () =>
    memory.allocateStep(planOf({}).nodes.slice(0, 1), { noise: recording }, FRAMES),
  );
  expect(steps.flat(2).filter((channel) => gone.includes(channel))).toHaveLength(3);
});

test('a step begins once what it needs has begun, and a mix has ended once all of its steps have', async () => {
  const [plan, ends] = [planOf({}), [] as (() => void)[]];
  let ended = false;
  const made = render(plan, {
    stem,
    run: (step, inputs) => {
      const sounds = allocateOutputs(step, (key) => inputs[key]!, FRAMES);
      return Promise.resolve({ sounds, done: new Promise<void>((end) => ends.push(end)) });
    },
    known: () => undefined,
  }).finally(() => (ended = true));
  await new Promise((later) => setTimeout(later, 50));
  // Ten strips, two parts of them in main and effect, the effect, the main.
  expect(ends).toHaveLength(STRIPS + 2 + 1 + 1);
  for (const end of ends.slice(1)) end();
  await new Promise((later) => setTimeout(later, 50));
  expect(ended).toBe(false);
  ends[0]!();
  expect(await made).toHaveLength(2);
});

test('what follows a step that fails fails too, and its thread works on', async () => {
  const pool = new WorkerPool(undefined, 1);
  pool.openAll();
  try {
    const [step, level] = [planOf({}).nodes.filter(({ kind }) => kind === 'output'), newLevel()];
    const inputs = Object.fromEntries(
      step.flatMap((node) => (node.kind === 'stem' ? [] : node.feeds.map(({ from }) => [from, recording]))),
    );
    const into = allocateOutputs(step, () => recording, FRAMES - 700);
    const task = { do: 'step', step, inputs, into, frames: FRAMES - 700, rate: RATE, level: newLevel() } as const;
    const levels = Object.fromEntries(Object.keys(inputs).map((key) => [key, level]));
    const { begun, done } = pool.start({ ...task, levels });
    const failed = done.catch((error: unknown) => error);
    await begun;
    // Whoever follows nobody is worked on meanwhile, though there is only one core.
    await pool.run({ ...task, levels: {} });
    markFailed(level);
    expect(await failed).toMatchObject({ message: expect.stringContaining('could not be worked out') as string });
    await pool.run({ ...task, levels: {} });
  } finally {
    await pool.close();
  }
});

test('what waits for a thread when the threads end is told so', async () => {
  const pool = new WorkerPool(undefined, 1);
  const tasks = Array.from({ length: 3 }, () => pool.run({ do: 'stem', file: '/no/such/file', rate: RATE }));
  const ends = Promise.allSettled(tasks);
  await pool.close();
  expect((await ends).map(({ status }) => status)).toEqual(['rejected', 'rejected', 'rejected']);
  await expect(pool.run({ do: 'stem', file: '/no/such/file', rate: RATE })).rejects.toThrow('was stopped');
});

test('nobody is told of every block, but of all that is there before anyone asks for more', () => {
  const [from, own] = [newLevel(), newLevel()];
  const { made, reached } = createStreamSync({ from }, own);
  made(1024);
  expect(own[0]).toBe(0);
  made(20_000);
  expect(own[0]).toBe(20_000);
  from[0] = 5000;
  expect(() => reached('from', 5000)).not.toThrow();
  expect(() => reached('what nobody works on any more', 5000)).not.toThrow();
  markFailed(from);
  expect(() => reached('from', 5000)).not.toThrow();
  expect(() => reached('from', 5001)).toThrow('could not be worked out');
});
