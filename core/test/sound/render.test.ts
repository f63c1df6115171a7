import fc from 'fast-check';

import { boathouse, quay } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';
import { throughSox } from '@old-echo/testing/sounds';

import type { Profile } from '../../src/desk/profile';
import type { Curve } from '../../src/desk/setting';
import { defaultState, type SettingsByAddress, withSettings } from '../../src/desk/state';
import { biquad, magnitudeDb } from '../../src/signal/biquad';
import { compressorGain } from '../../src/signal/static-curve';
import { seededRandom } from '../../src/signal/wav-samples';
import { BlockChain, processInPlace } from '../../src/sound/block-processor';
import { createCompressor, createGate } from '../../src/sound/dynamics';
import { createReverb } from '../../src/sound/effects';
import { type Envelope, levelEnvelope, muteEnvelope, valueEnvelope } from '../../src/sound/envelope';
import { filter } from '../../src/sound/filter-step';
import { createLimiter } from '../../src/sound/limiter';
import { PAN_LAWS, panGains, type PanLaw } from '../../src/sound/pan-law';
import { type Channels, inMemory } from '../../src/sound/recording';
import { buildRenderGraph, type StemInput } from '../../src/sound/render-graph';
import { renderHere } from '../../src/sound/render-here';
import { thirdOctaveLevels } from '../../src/sound/spectrum';

const RATE = 48_000;
const FRAMES = 9600;
const noise = (seed: number, length = FRAMES, level = 0.3) => {
  const random = seededRandom(seed);
  return Float32Array.from({ length }, () => (random() - 0.5) * 2 * level);
};
const stem = (hash: string): StemInput => ({ hash, frames: FRAMES, gain: 0 });

/** What the model makes of recordings; 'one' is one channel, 'two' two. */
function mix(
  moves: SettingsByAddress,
  {
    stems = { 'in.1': stem('two') },
    profile = boathouse,
    output = 'main.1',
    solo = null,
    law = 'constant power',
  }: {
    stems?: Readonly<Record<string, StemInput>>;
    profile?: Profile;
    output?: string;
    solo?: string | null;
    law?: PanLaw;
  } = {},
  sounds: Readonly<Record<string, Channels>> = { one: [noise(1)], two: [noise(2), noise(3)] },
): Channels {
  const up = Object.fromEntries(Object.keys(stems).map((strip) => [`${strip}/fader/level`, 0]));
  const state = withSettings(defaultState(profile), { ...up, [`${output}/fader/level`]: 0, ...moves });
  const plan = buildRenderGraph(profile, state, { output, solo, stems, law, rate: RATE, frames: FRAMES });
  return renderHere(plan, (hash) => inMemory(sounds[hash]!));
}
const level = (samples: Float32Array) => 10 * Math.log10(samples.reduce((sum, x) => sum + x * x, 0) / samples.length);
const isSilent = (channels: Channels) => channels.every((channel) => channel.every((x) => x === 0));

test('a mix of one strip at unity is its recording, sample for sample', () => {
  expect(mix({})).toEqual([noise(2), noise(3)]);
});

test('a fader scales; a mute, a fader at −∞, an unplugged source and a muted DCA are silence', () => {
  const [left] = mix({ 'in.1/fader/level': -6 });
  expect(level(left!) - level(noise(2))).toBeCloseTo(-6, 4);
  const closed: SettingsByAddress[] = [
    { 'in.1/mute/on': true },
    { 'in.1/fader/level': -90 },
    { 'in.1/source/socket': 'none' },
  ];
  for (const moves of closed) expect(isSilent(mix(moves))).toBe(true);
  for (const control of ['dca.1', 'mutegroup.1'])
    expect(isSilent(mix({ [`in.1/routing/${control}`]: true, [`${control}/mute/on`]: true }, { profile: quay }))).toBe(
      true,
    );
});

test('two strips sum: mixing is linear', () => {
  const both = { stems: { 'in.1': stem('two'), 'in.2': stem('other') } };
  const sounds = { two: [noise(2), noise(3)], other: [noise(4), noise(5)] };
  const sum = mix({ 'in.2/fader/level': -10 }, both, sounds);
  const [one, other] = [
    mix({ 'in.2/fader/level': -10 }, { ...both, solo: 'in.1' }, sounds),
    mix({ 'in.2/fader/level': -10 }, { ...both, solo: 'in.2' }, sounds),
  ];
  const worst = Math.max(...sum[0]!.map((x, i) => Math.abs(x - one[0]![i]! - other[0]![i]!)));
  expect(worst).toBeLessThan(1e-6);
});

test.each([
  ['constant power', -3.01],
  ['linear', -6.02],
  ['compromise', -4.515],
] as const)('pan law %s: %d dB at the centre (common practice), all on one side at the ends', (law, centre) => {
  expect(20 * Math.log10(panGains(law, 0)[0])).toBeCloseTo(centre, 2);
  expect(PAN_LAWS).toContain(law);
  expect([panGains(law, -1), panGains(law, 1)]).toEqual([
    [1, 0],
    [0, 1],
  ]);
});

test.each(PAN_LAWS)('one channel goes to both sides by the pan law: %s', (law) => {
  for (const pan of [-100, -37, 0, 80, 100]) {
    const moves = { 'in.1/pan/position': pan };
    const sides = mix(moves, { stems: { 'in.1': stem('one') }, law });
    panGains(law, pan / 100).forEach((gain, side) => {
      if (gain === 0) expect(level(sides[side]!)).toBe(-Infinity);
      else expect(level(sides[side]!) - level(noise(1))).toBeCloseTo(20 * Math.log10(gain), 4);
    });
  }
});

test('two strips of one channel are as SoX mixes them: the first in the middle, the other on the right', () => {
  const both = { stems: { 'in.1': stem('one'), 'in.2': stem('other') } };
  const sounds = { one: [noise(1)], other: [noise(4)] };
  const ours = mix({ 'in.2/pan/position': 100, 'in.2/fader/level': -6 }, both, sounds);
  // Constant power takes 3.01 dB in the middle; −6 dB is 0.501187 (arithmetic).
  const middle = 10 ** (-3.0103 / 20);
  const remix = ['remix', `1v${middle}`, `1v${middle},2v0.501187`];
  const theirs = throughSox({ rate: RATE, channels: [noise(1), noise(4)] }, ...remix);
  ours.forEach((channel, c) => {
    const worst = Math.max(...channel.map((x, i) => Math.abs(x - theirs.channels[c]![i]!)));
    expect(worst).toBeLessThan(1e-6);
  });
});

test('twenty strips, alone or all at once, in the main and in an effect: the sum of all is the sum of each', () => {
  const strips = Array.from({ length: 20 }, (_, i) => `in.${i + 1}`);
  const stems = Object.fromEntries(strips.map((strip, i) => [strip, stem(i % 3 === 0 ? 'two' : 'one')]));
  const moves = Object.fromEntries(
    strips.flatMap((strip, i): [string, number][] => [
      [`${strip}/fader/level`, -12 - i],
      [`${strip}/pan/position`, i * 9 - 80],
      [`${strip}/sends/fx.1/level`, i % 4 === 0 ? -90 : -20],
    ]),
  );
  const settings = { ...moves, 'fx.1/fader/level': -6 };
  const all = mix(settings, { stems, profile: quay });
  const sums = [new Float64Array(FRAMES), new Float64Array(FRAMES)];
  for (const solo of strips) {
    const one = mix(settings, { stems, profile: quay, solo });
    one.forEach((channel, c) => channel.forEach((x, i) => (sums[c]![i]! += x)));
  }
  const worst = Math.max(...all.flatMap((channel, c) => [...channel].map((x, i) => Math.abs(x - sums[c]![i]!))));
  expect(worst).toBeLessThan(2e-6);
});

test('sends: behind the fader they follow it, before it they do not; both close with the mute', () => {
  const to = { profile: quay, output: 'mix.1' };
  const sent = (moves: SettingsByAddress) => level(mix({ 'in.1/sends/mix.1/level': -10, ...moves }, to)[0]!);
  const pre = sent({ 'in.1/fader/level': -20 });
  expect(pre).toBeCloseTo(sent({}), 6);
  const post = { 'in.1/sends/mix.1/tap': 'post' };
  expect(sent({ ...post, 'in.1/fader/level': -20 }) - sent(post)).toBeCloseTo(-20, 3);
  expect(sent({ 'in.1/mute/on': true })).toBe(-Infinity);
});

test('what a DCA does to a strip is not done to what it sends before its fader', () => {
  const to = { profile: quay, output: 'mix.1' };
  const sent = (moves: SettingsByAddress) =>
    level(mix({ 'in.1/sends/mix.1/level': -10, 'in.1/routing/dca.1': true, 'dca.1/fader/level': 0, ...moves }, to)[0]!);
  expect(sent({ 'dca.1/fader/level': -12 })).toBeCloseTo(sent({}), 6);
  const post = { 'in.1/sends/mix.1/tap': 'post' };
  expect(sent({ ...post, 'dca.1/fader/level': -12 }) - sent(post)).toBeCloseTo(-12, 3);
});

test('a DCA at −∞ is silence, as its mute is', () => {
  const closed = { 'in.1/routing/dca.1': true, 'dca.1/fader/level': -90 };
  expect(isSilent(mix(closed, { profile: quay }))).toBe(true);
});

test('a polarity that is turned round is the same recording with its sign turned', () => {
  const [left] = mix({ 'in.1/preamp/polarity': true });
  expect(left).toEqual(noise(2).map((x) => -x));
});

test('an effect return adds a tail, and is silent when nothing is sent to it', () => {
  const short = { one: [noise(1, 480)] };
  const room = { 'fx.1/fader/level': 0, 'in.1/sends/fx.1/level': 0, 'fx.1/inserts/predelay': 0 };
  const stems = { stems: { 'in.1': stem('one') } };
  const wet = mix(room, stems, short);
  expect(level(wet[0]!.subarray(4800))).toBeGreaterThan(-80);
  // A kind of effect that the model does not know is a room as well.
  expect(mix({ ...room, 'fx.1/inserts/kind': 'spring' }, stems, short)).toEqual(wet);
  const dry = mix({ ...room, 'in.1/sends/fx.1/level': -90 }, stems, short);
  expect(level(dry[0]!.subarray(4800))).toBe(-Infinity);
});

test('a group carries its strips, and ways that go round in circles are left out and named', () => {
  const grouped = { 'in.1/routing/main.1': false, 'in.1/routing/group.1': true };
  expect(mix(grouped)).toEqual([noise(2), noise(3)]);
  const state = withSettings(defaultState(boathouse), {
    ...grouped,
    'in.1/fader/level': 0,
    'group.1/sends/fx.1/level': 0,
    'fx.1/fader/level': 0,
    'fx.1/routing/group.1': true,
  });
  const request = {
    output: 'main.1',
    solo: null,
    stems: { 'in.1': stem('two') },
    law: 'linear',
    rate: RATE,
    frames: FRAMES,
  } as const;
  expect(buildRenderGraph(boathouse, state, request).circles).not.toEqual([]);
});

/** A second of an envelope. */
const filled = (envelope: Envelope) => {
  const into = new Float32Array(RATE);
  envelope(into, 0);
  return into;
};

test('automation: straight in dB, no jumps louder than a ramp makes, and mutes hold', () => {
  const rising: Curve = [
    [0, -20],
    [1, 0],
  ];
  expect(20 * Math.log10(filled(levelEnvelope(rising, -90, RATE))[RATE / 2]!)).toBeCloseTo(-10, 2);
  const falling: Curve = [
    [0.5, 0],
    [0.5, -90],
  ];
  const jump = filled(levelEnvelope(falling, -90, RATE));
  expect(Math.max(...jump.map((x, i) => Math.abs(x - (jump[i - 1] ?? x))))).toBeLessThan(0.05);
  const muted: Curve = [
    [0, 0],
    [0.5, 1],
  ];
  const mute = filled(muteEnvelope(muted, RATE));
  expect([mute[100], mute[RATE / 2 - 1], mute[RATE - 1]]).toEqual([1, 1, 0]);
});

test('automation is the same in pieces, in any order, as in one', () => {
  const lane: Curve = [
    [0.1, -90],
    [0.2, -12],
    [0.2, -40],
    [0.61, 3],
  ];
  for (const envelope of [levelEnvelope(lane, -90, RATE), valueEnvelope(lane, RATE)]) {
    const whole = filled(envelope);
    for (const [from, to] of [
      [9000, 10_024],
      [0, 1],
      [4799, 4801],
      [29_000, 31_000],
    ] as const) {
      const piece = new Float32Array(to - from);
      envelope(piece, from);
      piece.forEach((x, i) => expect(x).toBeCloseTo(whole[from + i]!, 5));
    }
  }
});

describe('EQ', () => {
  test.each([
    ['bell', 1000, 6],
    ['low shelf', 200, 6],
    ['high shelf', 5000, -8],
  ] as const)(
    '%s at %d Hz: the gain at f0, or half of it (R. Bristow-Johnson, Audio EQ Cookbook)',
    (kind, freq, gain) => {
      const at = magnitudeDb(biquad({ kind, freq, gain, q: 0.7 }, RATE), freq, RATE);
      expect(at).toBeCloseTo(kind === 'bell' ? gain : gain / 2, 6);
    },
  );
  test('the same as SoX’s equaliser on the same noise, within 0.1 dB per third octave', () => {
    const sound = { rate: RATE, channels: [noise(6, RATE * 6)] };
    const theirs = thirdOctaveLevels(throughSox(sound, 'equalizer', '2000', '1.5q', '5'));
    const ours = Float32Array.from(sound.channels[0]!);
    filter([biquad({ kind: 'bell', freq: 2000, gain: 5, q: 1.5 }, RATE)], [ours]);
    thirdOctaveLevels({ rate: RATE, channels: [ours] }).forEach((band, i) =>
      expect(Math.abs(band - theirs[i]!)).toBeLessThan(0.1),
    );
  });
});

describe('dynamics', () => {
  const still = (decibels: number, seconds: number) => new Float32Array(RATE * seconds).fill(10 ** (decibels / 20));
  const set = { threshold: -20, ratio: 4, knee: 0, attack: 0.01, release: 0.1, makeup: 0, mix: 1 };
  test('one channel is filtered as each of two is, to the last bit, whatever its length', () => {
    const bands = [60, 150, 400, 1100, 3000, 8000, 15_000].map((freq, i) =>
      biquad({ kind: 'bell', freq, gain: i % 2 ? -5 : 4, q: 1 + i }, RATE),
    );
    for (const length of [1, 2, 5, 6, 7, 1023, 1024, 1029, 3000])
      for (let count = 1; count <= bands.length; count++) {
        const [alone, left, right] = [noise(5, length), noise(5, length), noise(6, length)];
        filter(bands.slice(0, count), [alone]);
        filter(bands.slice(0, count), [left, right]);
        expect(alone).toEqual(left);
      }
  });
  test.each([0, 6, 18])('compressor with a knee of %d dB: its curve is the one that is drawn', (knee) => {
    const set = { threshold: -30, ratio: 4, knee };
    for (let at = -100; at <= 12; at += 0.7) {
      const steady = new Float32Array(64).fill(10 ** (at / 20));
      processInPlace([steady], createCompressor({ ...set, attack: 0, release: 0, makeup: 0, mix: 1 }, RATE));
      expect(20 * Math.log10(steady[63]!) - at).toBeCloseTo(compressorGain(set, at), 3);
    }
  });
  test('compressor: −8 in becomes −17 out, 63 % of the step after one attack time (arithmetic)', () => {
    const x = still(-8, 1);
    processInPlace([x], createCompressor(set, RATE));
    expect(20 * Math.log10(x.at(-1)!)).toBeCloseTo(-17, 1);
    expect(20 * Math.log10(x[RATE * 0.01]!)).toBeCloseTo(-8 - 9 * (1 - 1 / Math.E), 1);
  });
  test('gate: closed it takes its range away, open it takes nothing', () => {
    const gateSet = { threshold: -30, range: 40, attack: 0.001, hold: 0.01, release: 0.05 };
    const [quiet, loud] = [still(-40, 1), still(-20, 1)];
    processInPlace([quiet], createGate(gateSet, RATE));
    processInPlace([loud], createGate(gateSet, RATE));
    expect(20 * Math.log10(quiet.at(-1)!)).toBeCloseTo(-80, 1);
    expect(20 * Math.log10(loud.at(-1)!)).toBeCloseTo(-20, 2);
  });
  const limit = (x: Float32Array) =>
    new BlockChain(() => [createLimiter([x], -6, 0.05, x.length, RATE)]).runThrough(0, x.length);
  test('limiter: nothing passes its ceiling, and what is under it is not touched', () => {
    const x = noise(8, RATE, 1);
    limit(x);
    expect(20 * Math.log10(Math.max(...x.map(Math.abs)))).toBeLessThanOrEqual(-6 + 1e-4);
    const quiet = noise(9, RATE, 0.3);
    const before = Float32Array.from(quiet);
    limit(quiet);
    expect(quiet).toEqual(before);
  });
});

test('a room falls by 60 dB in its time', () => {
  const [left, right] = [new Float32Array(RATE * 2), new Float32Array(RATE * 2)];
  left[0] = 1;
  processInPlace([left, right], createReverb({ time: 1, tone: 16_000, size: 0.017 }, RATE));
  const at = (seconds: number) => level(left.subarray(RATE * seconds, RATE * (seconds + 0.1)));
  expect(Math.abs(at(0.2) - at(1.2) - 60)).toBeLessThan(8);
});

test('whatever a desk is set to, the mix holds numbers only, and the same again gives the same', () => {
  const stems = { stems: { 'in.1': stem('two'), 'in.2': stem('one'), 'in.10': stem('one') } };
  fc.assert(
    fc.property(anySettings(boathouse, 120), (moves) => {
      const [once, again] = [mix(moves, stems), mix(moves, stems)];
      expect(once.every((channel) => channel.every(Number.isFinite))).toBe(true);
      expect(again).toEqual(once);
    }),
    { numRuns: 25 },
  );
});
