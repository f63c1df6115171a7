import { boathouse, quay } from '@old-echo/testing/profiles';

import type { Profile } from '../../src/desk/profile';
import { defaultState, type SettingsByAddress, withSettings } from '../../src/desk/state';
import { type Biquad, biquad, BUTTERWORTH_Q } from '../../src/signal/biquad';
import { seededRandom } from '../../src/signal/wav-samples';
import { inMemory } from '../../src/sound/recording';
import { buildRenderGraph } from '../../src/sound/render-graph';
import { renderHere } from '../../src/sound/render-here';

const RATE = 48_000;
const FRAMES = 9600;
/** How far a sound is looked for to either side, in samples. */
const FURTHEST = 1000;

const random = seededRandom(11);
const noise = Float32Array.from({ length: FRAMES }, () => (random() - 0.5) * 0.2);

/** One strip of noise through a whole mix; left. */
function through(profile: Profile, moves: SettingsByAddress): Float32Array {
  const state = withSettings(defaultState(profile), { 'in.1/fader/level': 0, 'main.1/fader/level': 0, ...moves });
  const stems = { 'in.1': { hash: 'noise', frames: FRAMES, gain: 0 } };
  const request = { output: 'main.1', solo: null, stems, law: 'linear', rate: RATE, frames: FRAMES } as const;
  return renderHere(buildRenderGraph(profile, state, request), () => inMemory([noise]))[0]!;
}

/** By how many samples a sound is behind what it was made of: where their cross-correlation is highest, whatever its sign. */
function behind(sound: Float32Array, of: Float32Array = noise): number {
  const at = (lag: number) => {
    let sum = 0;
    for (let i = FURTHEST; i < FRAMES - FURTHEST; i++) sum += of[i]! * sound[i + lag]!;
    return Math.abs(sum);
  };
  let [best, highest] = [0, at(0)];
  for (let lag = -FURTHEST; lag <= FURTHEST; lag++) {
    const found = at(lag);
    if (found > highest) [best, highest] = [lag, found];
  }
  return best;
}

const insert = (strip: string, place: number, kind: string): SettingsByAddress => ({
  [`${strip}/inserts/${place}/kind`]: kind,
  [`${strip}/inserts/${place}/on`]: true,
});

test.each([
  ['nothing', {}],
  ['a compressor and a gate', { 'in.1/compressor/on': true, 'in.1/compressor/threshold': -40, 'in.1/gate/on': true }],
  ['a limiter', insert('in.1', 1, 'limiter')],
  [
    'four limiters',
    Object.assign({}, ...[1, 2, 3, 4].map((place) => insert('in.1', place, 'limiter'))) as SettingsByAddress,
  ],
  ['a de-esser and a limiter on the main', { ...insert('in.1', 1, 'de-ess'), ...insert('main.1', 1, 'limiter') }],
  ['another polarity', { 'in.1/preamp/polarity': true }],
])('a mix with %s on its way is in step with what was recorded, to the sample', (_, moves) => {
  expect(behind(through(boathouse, moves))).toBe(0);
});

/** What a filter leaves of the noise: the difference equation of an IIR filter of second order. */
function filtered({ b0, b1, b2, a1, a2 }: Biquad): Float32Array {
  const out = new Float32Array(FRAMES);
  for (let i = 0; i < FRAMES; i++)
    out[i] =
      b0 * noise[i]! +
      b1 * (noise[i - 1] ?? 0) +
      b2 * (noise[i - 2] ?? 0) -
      a1 * (out[i - 1] ?? 0) -
      a2 * (out[i - 2] ?? 0);
  return out;
}

test.each([500, 2000, 8000, 18_000])('drive with its tone at %p Hz is late by no more than that filter', (tone) => {
  const driven = through(boathouse, { ...insert('in.1', 1, 'drive'), 'in.1/inserts/1/drive/tone': tone });
  const lowPass = biquad({ kind: 'low pass', freq: tone, gain: 0, q: BUTTERWORTH_Q }, RATE);
  expect(behind(driven, filtered(lowPass))).toBe(0);
});

test.each([0, 1, 10, 20.5])('a strip delayed by %p ms is late by just that', (delay) => {
  expect(behind(through(quay, { 'in.1/inserts/delay': delay }))).toBe(Math.round((delay / 1000) * RATE));
});

test('a strip is in step with itself through a group, and beside it', () => {
  const [to, direct] = ['in.1/routing/group.1', 'in.1/routing/main.1'];
  for (const moves of [
    { [to]: true, [direct]: false },
    { [to]: true, [direct]: true },
  ])
    expect(behind(through(quay, { 'group.1/fader/level': 0, ...moves }))).toBe(0);
});
