import { untouched, withSettings, type Settings } from '@old-echo/core/desk/state';
import { randomNumbers } from '@old-echo/core/formats/wav';
import { renderStep, roomFor } from '@old-echo/core/sound/mix-node';
import { planMix, type MixPlan } from '@old-echo/core/sound/mix-plan';
import { render, type Channels } from '@old-echo/core/sound/render';
import { SoundMemory } from '@old-echo/server/sound/memory';
import { SoundPool } from '@old-echo/server/sound/pool';
import { SoundSteps } from '@old-echo/server/sound/steps';

import { quay } from '../../core/test/profiles';

const [RATE, FRAMES] = [48_000, 6000];
const STRIPS = 10;
const CHANNEL = FRAMES * Float32Array.BYTES_PER_ELEMENT;

const random = randomNumbers(7);
const recording = [Float32Array.from({ length: FRAMES - 700 }, () => random() - 0.5)];

function planOf(moves: Settings): MixPlan {
  const strips = Array.from({ length: STRIPS }, (_, i) => `in.${i + 1}`);
  const set = strips.flatMap((strip): [string, number | boolean][] => [
    [`${strip}/fader/level`, -10],
    [`${strip}/sends/fx.1/level`, -15],
    [`${strip}/compressor/on`, true],
  ]);
  const state = withSettings(untouched(quay), {
    ...Object.fromEntries(set),
    'main.1/fader/level': 0,
    'fx.1/fader/level': 0,
    ...moves,
  });
  const stems = Object.fromEntries(strips.map((strip) => [strip, { hash: 'noise', frames: FRAMES, gain: 0 }]));
  return planMix(quay, state, { output: 'main.1', solo: null, stems, law: 'linear', rate: RATE, frames: FRAMES });
}

const stem = () => Promise.resolve(recording);

/** By itself, in memory of its own. */
const alone = (plan: MixPlan): Promise<Channels> =>
  render(plan, {
    stem,
    run: (step, inputs) => {
      const sounds = roomFor(step, (key) => inputs[key]!, FRAMES);
      renderStep(step, (key) => inputs[key]!, sounds, RATE);
      return Promise.resolve({ sounds, done: Promise.resolve() });
    },
    known: () => undefined,
  });

test('whatever memory a mix is worked out in, it is the same: what was there before is never heard', async () => {
  const pool = new SoundPool();
  try {
    // Too little for two mixes, so that something has to go each time.
    const memory = new SoundMemory(20 * CHANNEL, 12 * CHANNEL);
    const steps = new SoundSteps(pool, memory);
    const rooms = new Set<unknown>();
    let again = 0;
    const mixed = async (plan: MixPlan) => {
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
    const moves = (n: number): Settings => ({
      [`in.${(n % STRIPS) + 1}/fader/level`]: -20 + n,
      'fx.1/inserts/predelay': (n * 13) % 90,
      'fx.1/inserts/kind': n % 3 === 0 ? 'echo' : 'room',
    });
    for (const n of [0, 1, 2, 3, 4, 5, 1, 6, 0, 7]) {
      const plan = planOf(moves(n));
      expect(await mixed(plan)).toEqual(await alone(plan));
    }
    expect(again).toBeGreaterThan(20);
  } finally {
    await pool.close();
  }
});

test('memory of a sound that had to go is not written over before nobody reads it', () => {
  const memory = new SoundMemory(2 * CHANNEL, 2 * CHANNEL);
  const step = planOf({}).nodes.slice(0, 1);
  const inputs = { noise: recording };
  const sounds = ['one', 'two', 'three'].map((key) => ({ key, channels: [new Float32Array(FRAMES)] }));
  for (const { key, channels } of sounds) memory.set(key, channels);
  expect([memory.get('one'), memory.get('three')]).toEqual([undefined, sounds[2]!.channels]);
  const roomOf = (frames: number) => memory.forStep(step, inputs, frames)[0]![0];
  const old = sounds[0]!.channels[0];
  expect(roomOf(FRAMES)).not.toBe(old);
  memory.rest();
  // Of other lengths there is none.
  expect(roomOf(FRAMES + 1)).toHaveLength(FRAMES + 1);
  expect(roomOf(FRAMES)).toBe(old);
  expect(roomOf(FRAMES)).not.toBe(old);
});

test('no more memory is held ready than was agreed, however much had to go', () => {
  const memory = new SoundMemory(CHANNEL, 3 * CHANNEL);
  const gone: Float32Array[] = Array.from({ length: 20 }, () => new Float32Array(FRAMES));
  gone.forEach((channel, i) => memory.set(`sound ${i}`, [channel]));
  memory.rest();
  const steps = Array.from({ length: 20 }, () =>
    memory.forStep(planOf({}).nodes.slice(0, 1), { noise: recording }, FRAMES),
  );
  expect(steps.flat(2).filter((channel) => gone.includes(channel))).toHaveLength(3);
});
