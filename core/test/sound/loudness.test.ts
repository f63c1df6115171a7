import { inARow, sine, throughEbur128, throughSox } from '@old-echo/testing/sounds';

import { describeBlindTest } from '../../src/phrases/describe-blind-test';
import type { PcmAudio } from '../../src/signal/sound';
import { seededRandom } from '../../src/signal/wav-samples';
import { blindTestP } from '../../src/sound/blind-test';
import { correlationOverTime } from '../../src/sound/correlation';
import { integratedBetween, kWeighting } from '../../src/sound/loudness';
import { measureLoudness } from '../../src/sound/loudness-meter';
import { thirdOctaveLevels } from '../../src/sound/spectrum';
import { truePeak } from '../../src/sound/true-peak';

test('K-weighting at 48 kHz has the coefficients of ITU-R BS.1770-4', () => {
  const [shelf, highPass] = kWeighting(48_000);
  expect([shelf.b0, shelf.b1, shelf.b2]).toEqual([
    expect.closeTo(1.53512485958697, 10),
    expect.closeTo(-2.69169618940638, 10),
    expect.closeTo(1.19839281085285, 10),
  ]);
  expect([shelf.a1, shelf.a2]).toEqual([expect.closeTo(-1.69065929318241, 10), expect.closeTo(0.73248077421585, 10)]);
  expect(highPass).toEqual({
    b0: 1,
    b1: -2,
    b2: 1,
    a1: expect.closeTo(-1.99004745483398, 10) as number,
    a2: expect.closeTo(0.99007225036621, 10) as number,
  });
});

test('a 997 Hz sine at full scale in one front channel reads −3.01 LKFS (BS.1770-4)', () => {
  for (const rate of [44_100, 48_000, 96_000])
    expect(measureLoudness(sine(997, 0, 5, { rate, on: [0] })).integrated).toBeCloseTo(-3.01, 1);
});

const tone = (level: number, seconds: number) => sine(1000, level, seconds);

describe('EBU Tech 3341', () => {
  test.each([
    ['case 1', () => tone(-23, 20), -23],
    ['case 2', () => tone(-33, 20), -33],
    ['case 3', () => inARow(tone(-36, 10), tone(-23, 60), tone(-36, 10)), -23],
    ['case 4', () => inARow(tone(-72, 10), tone(-36, 10), tone(-23, 60), tone(-36, 10), tone(-72, 10)), -23],
    ['case 6: 5.0', () => surround(), -23],
  ] as const)('%s', (_, make, expected) => {
    const { integrated } = measureLoudness(make());
    expect(Math.abs(integrated! - expected)).toBeLessThanOrEqual(0.1);
  });
  test('case 1 at any moment and in the short term', () => {
    const { momentaryMax, shortTermMax } = measureLoudness(tone(-23, 20));
    expect([momentaryMax, shortTermMax].map((l) => Math.abs(l! + 23) <= 0.1)).toEqual([true, true]);
  });
  test.each([
    ['case 15: phase 0°', 0],
    ['case 16: phase 45°', Math.PI / 4],
  ])('%s of a quarter of the rate reads −6.0 dBTP', (_, phase) => {
    const level = 20 * Math.log10(0.5);
    const peak = 20 * Math.log10(truePeak(sine(12_000, level, 1, { phase })));
    expect(peak).toBeLessThanOrEqual(-6 + 0.2);
    expect(peak).toBeGreaterThanOrEqual(-6 - 0.4);
  });
});

/** 5.0: L and R at −28, C at −24, Ls and Rs at −30 dBFS. */
function surround(): PcmAudio {
  const channel = (level: number) => sine(1000, level, 20, { channels: 1 }).channels[0]!;
  return { rate: 48_000, channels: [-28, -28, -24, -30, -30].map(channel) };
}

test.each([
  ['case 1', -20, -30, 10],
  ['case 2', -20, -15, 5],
])('EBU Tech 3342, %s', (_, first, second, expected) => {
  const { range } = measureLoudness(inARow(tone(first, 20), tone(second, 20)));
  expect(Math.abs(range! - expected)).toBeLessThanOrEqual(1);
});

/** Noise in which every `beat` seconds something swells: speech-like when slow, music-like when quick. */
function material(beat: number, seed: number): PcmAudio {
  const random = seededRandom(seed);
  const rate = 48_000;
  const make = () => {
    const samples = new Float32Array(rate * 20);
    for (let i = 0; i < samples.length; i++) {
      const swell = Math.cos((Math.PI * i) / rate / beat) ** 2;
      samples[i] = (random() - 0.5) * 0.6 * swell + 0.2 * swell * Math.sin((2 * Math.PI * 220 * i) / rate);
    }
    return samples;
  };
  return { rate, channels: [make(), make()] };
}

test.each([
  ['noise', 1000, 1],
  ['speech-like', 1.7, 2],
  ['music-like', 0.5, 3],
])('%s material: within 0.1 LU, 0.1 LU and 0.2 dB of FFmpeg’s ebur128', (_, beat, seed) => {
  const sound = material(beat, seed);
  const [ours, theirs] = [measureLoudness(sound), throughEbur128(sound)];
  // FFmpeg prints one decimal.
  expect(Math.abs(ours.integrated! - theirs.integrated)).toBeLessThanOrEqual(0.1 + 0.05);
  expect(Math.abs(ours.range! - theirs.range)).toBeLessThanOrEqual(0.1 + 0.05);
  expect(Math.abs(ours.truePeak! - theirs.truePeak)).toBeLessThanOrEqual(0.2 + 0.05);
});

test('silence, one sample and what is too short have no loudness, and say so', () => {
  const nothing = { integrated: null, range: null, momentaryMax: null, shortTermMax: null };
  const silence = { rate: 48_000, channels: [new Float32Array(96_000)] };
  expect(measureLoudness(silence)).toMatchObject({ ...nothing, truePeak: null });
  const single = { rate: 48_000, channels: [Float32Array.of(0.5)] };
  expect(measureLoudness(single)).toMatchObject({ ...nothing, truePeak: expect.closeTo(-6.02, 1) as number });
});

test('the loudness of a part, from that of the whole, is what the part has by itself', () => {
  const whole = inARow(tone(-30, 5), tone(-20, 6), tone(-36, 5));
  const part = { rate: whole.rate, channels: whole.channels.map((c) => c.slice(4 * whole.rate, 12 * whole.rate)) };
  const { momentary, integrated } = measureLoudness(whole);
  expect(integratedBetween(momentary, 4, 12)).toBeCloseTo(measureLoudness(part).integrated!, 1);
  expect(integratedBetween(momentary, 0, 16)).toBeCloseTo(integrated!, 2);
  // Shorter than one block of 400 ms: not defined.
  expect(integratedBetween(momentary, 3, 3.3)).toBeNull();
});

test('third octaves: a full-scale sine gives −3.01 dB in its own band, and a filter of SoX shows as it should', () => {
  const levels = thirdOctaveLevels(sine(1000, 0, 4, { on: [0] }));
  expect(levels[17]).toBeCloseTo(-3.01, 1);
  expect(Math.max(...levels.filter((_, band) => Math.abs(band - 17) > 1))).toBeLessThan(-60);
  const noise = material(1000, 4);
  const [plain, cut] = [
    thirdOctaveLevels(noise),
    thirdOctaveLevels(throughSox(noise, 'equalizer', '1000', '1q', '-6')),
  ];
  expect(cut[17]! - plain[17]!).toBeCloseTo(-6, 0);
  expect(cut[30]! - plain[30]!).toBeCloseTo(0, 1);
});

test('correlation: 1 for mono, −1 for opposite polarity, null for silence', () => {
  const [x] = sine(300, -6, 1).channels;
  const over = (right: Float32Array) => correlationOverTime({ rate: 48_000, channels: [x!, right] });
  const seven = (value: unknown): unknown[] => new Array(7).fill(value);
  expect(over(x!)).toEqual(seven(expect.closeTo(1, 9)));
  expect(over(x!.map((v) => -v))).toEqual(seven(expect.closeTo(-1, 9)));
  expect(over(new Float32Array(x!.length))).toEqual(seven(null));
});

test('blind test: exact binomial tails', () => {
  expect(blindTestP(12, 16)).toBeCloseTo(0.038, 3);
  expect(blindTestP(9, 10)).toBeCloseTo(0.011, 3);
  expect(blindTestP(0, 10)).toBe(1);
  expect(blindTestP(10, 10)).toBe(2 ** -10);
  expect(describeBlindTest(12, 16)).toContain('You very likely hear');
  expect(describeBlindTest(8, 16)).toContain('no sign');
  expect(describeBlindTest(3, 4)).toBe('6 more before it means anything.');
});
