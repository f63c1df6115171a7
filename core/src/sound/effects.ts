import { biquad, filter, FLAT_Q } from './biquad';
import { compress } from './dynamics';
import { factor } from './sound';

/** Soft saturation in place: more of it with `amount` (0 … 1), and darker with `tone` (Hz). What is quiet stays as it is. */
export function drive(amount: number, tone: number, channels: readonly Float32Array[], rate: number): void {
  const by = 1 + amount * 11;
  const darker = biquad({ kind: 'low pass', freq: tone, gain: 0, q: FLAT_Q }, rate);
  for (const channel of channels) {
    for (let i = 0; i < channel.length; i++) channel[i] = Math.tanh((channel[i] as number) * by) / by;
    filter(darker, channel);
  }
}

/**
 * Repeats, in place: each after `seconds`, `feedback` times as loud as the last (under 1), in the sum with `mix` (0 … 1).
 * @param tone the frequency in Hz above which each repeat gets darker, or undefined
 */
export function echo(
  { seconds, feedback, mix, tone }: { seconds: number; feedback: number; mix: number; tone?: number },
  channels: readonly Float32Array[],
  rate: number,
): void {
  const length = Math.max(1, Math.round(seconds * rate));
  const dull = tone === undefined ? 0 : Math.exp((-2 * Math.PI * tone) / rate);
  for (const channel of channels) {
    const line = new Float32Array(length);
    let [at, last] = [0, 0];
    for (let i = 0; i < channel.length; i++) {
      const x = channel[i] as number;
      const repeat = line[at] as number;
      last = quiet(repeat + (last - repeat) * dull);
      line[at] = quiet(x + last * feedback);
      channel[i] = x * (1 - mix) + repeat * mix;
      if (++at === length) at = 0;
    }
  }
}

const SILENCE = 1e-15;
const quiet = (x: number): number => (x < SILENCE && x > -SILENCE ? 0 : x);

/** Takes sharp sounds down, in place: what lies above `freq` Hz is compressed 4 : 1 above `threshold` dB. */
export function deEss(freq: number, threshold: number, channels: readonly Float32Array[], rate: number): void {
  const high = biquad({ kind: 'low cut', freq, gain: 0, q: FLAT_Q }, rate);
  const sharp = channels.map((channel) => {
    const copy = Float32Array.from(channel);
    filter(high, copy);
    return copy;
  });
  const before = sharp.map((channel) => Float32Array.from(channel));
  compress({ threshold, ratio: 4, knee: 3, attack: 0.001, release: 0.06, makeup: 0, mix: 1 }, sharp, rate);
  channels.forEach((channel, c) => {
    const [was, now] = [before[c] as Float32Array, sharp[c] as Float32Array];
    // Only what was taken away is taken from the whole, so that nothing else changes its phase.
    for (let i = 0; i < channel.length; i++)
      channel[i] = (channel[i] as number) + ((now[i] as number) - (was[i] as number));
  });
}

/** How far a chorus swings around its middle, in seconds. */
const SWING = 0.004;
const MIDDLE = 0.012;

/** A second voice that wavers in pitch, in place, half of the sum at full `depth` (0 … 1). `rate` of the swing in Hz. */
export function chorus(swing: number, depth: number, channels: readonly Float32Array[], rate: number): void {
  channels.forEach((channel, c) => {
    const dry = Float32Array.from(channel);
    for (let i = 0; i < channel.length; i++) {
      const away = (MIDDLE + SWING * Math.sin((2 * Math.PI * swing * i) / rate + (c * Math.PI) / 2)) * rate;
      const from = i - away;
      const whole = Math.floor(from);
      const part = from - whole;
      const voice = (dry[whole] ?? 0) * (1 - part) + (dry[whole + 1] ?? 0) * part;
      channel[i] = (dry[i] as number) * (1 - depth / 2) + voice * (depth / 2);
    }
  });
}

/** Delays channels by whole samples, in place. */
export function delay(seconds: number, channels: readonly Float32Array[], rate: number): void {
  const by = Math.round(seconds * rate);
  for (const channel of channels) {
    channel.copyWithin(by, 0, Math.max(0, channel.length - by));
    channel.fill(0, 0, Math.min(by, channel.length));
  }
}

export interface Reverb {
  /** Seconds until it has fallen by 60 dB. */
  readonly time: number;
  /** Seconds before it begins. */
  readonly predelay: number;
  /** Hz above which it fades faster. */
  readonly tone: number;
  /** How large the room is: the mean length of its paths in seconds. */
  readonly size: number;
}

/** Lengths of the eight delay lines, against the room's size: no two share a common measure. */
const LINES = [0.53, 0.61, 0.74, 0.83, 0.97, 1.09, 1.27, 1.43];
/** What each way round loses at the tone, as a power: 1 dB. */
const DULLED = 10 ** -0.1;
/** Samples that a room works on together. No line is shorter, so within them none hears what it is just being told. */
const BLOCK = 256;
/** Added to what goes round, −360 dB: without it a tail ends in numbers too small to count with quickly. */
const FAINT = 1e-18;

/**
 * A room for one channel in, left and right out: eight delay lines that feed one another through a Householder matrix, which
 * keeps the energy (J.-M. Jot, A. Chaigne, 1991; from memory). Each line loses what makes it fall by 60 dB in `time`, and
 * above that one decibel at the tone on every way round.
 */
export function reverb({ time, predelay, tone, size }: Reverb, input: Float32Array, rate: number): Float32Array[] {
  const [left, right] = [new Float32Array(input.length), new Float32Array(input.length)];
  if (!input.some((x) => x !== 0)) return [left, right];
  const share = Math.min(0.25, (1 - DULLED) / 2 / (1 - Math.cos((2 * Math.PI * Math.min(tone, rate / 2)) / rate)));
  const dull = (1 - Math.sqrt(1 - 4 * share)) / 2;
  const wait = Math.round(predelay * rate);
  const [sum, fresh, heard] = [new Float64Array(BLOCK), new Float64Array(BLOCK), new Float64Array(BLOCK + 1)];
  const sides = [new Float64Array(BLOCK), new Float64Array(BLOCK)] as const;
  const lines = LINES.map((by, n): Line => {
    const length = Math.max(BLOCK, Math.round(by * size * rate) | 1);
    return {
      samples: new Float64Array(length),
      out: new Float64Array(BLOCK),
      gain: factor((-60 * length) / rate / time),
      sign: n & 1 ? -1 : 1,
      side: n & 2 ? sides[0] : sides[1],
      level: (n & 4 ? -1 : 1) / Math.sqrt(LINES.length),
      at: 0,
    };
  });
  for (let from = 0; from < input.length; from += BLOCK) {
    const count = Math.min(BLOCK, input.length - from);
    for (let i = 0, at = from - wait; i < count; i++, at++) fresh[i] = at >= 0 ? (input[at] as number) : 0;
    goRound(lines, { sum, heard, fresh, sides }, count, dull);
    left.set(sides[0].subarray(0, count), from);
    right.set(sides[1].subarray(0, count), from);
  }
  return [left, right];
}

interface Line {
  readonly samples: Float64Array;
  readonly out: Float64Array;
  readonly gain: number;
  readonly sign: number;
  readonly side: Float64Array;
  readonly level: number;
  at: number;
}

interface Blocks {
  readonly sum: Float64Array;
  readonly heard: Float64Array;
  readonly fresh: Float64Array;
  readonly sides: readonly Float64Array[];
}

/** All lines by one block. */
function goRound(lines: readonly Line[], { sum, heard, fresh, sides }: Blocks, count: number, dull: number): void {
  sum.fill(0);
  for (const side of sides) side.fill(0);
  for (const line of lines) {
    // One sample more than is needed: the filter looks back by one.
    heard[0] = line.samples[(line.at + line.samples.length - 1) % line.samples.length] as number;
    unroll(line.samples, line.at, heard, count);
    soften(heard, line.out, sum, count, dull);
    addTo(line.side, line.out, count, line.level);
  }
  for (let i = 0; i < count; i++) sum[i] = (sum[i] as number) / 4;
  for (const line of lines) {
    feedBack(line.out, sum, fresh, count, line.gain, line.sign);
    line.at = roll(line.out, line.samples, line.at, count);
  }
}

// Everything that goes round is kept in double precision: that takes half as long as turning each sample to and fro.

/** Copies `count` samples from a ring, beginning at `at`, behind the first of `into`. */
function unroll(ring: Float64Array, at: number, into: Float64Array, count: number): void {
  const first = Math.min(count, ring.length - at);
  into.set(ring.subarray(at, at + first), 1);
  if (first < count) into.set(ring.subarray(0, count - first), 1 + first);
}

/** Copies `count` samples into a ring, beginning at `at`; returns where the next one goes. */
function roll(from: Float64Array, ring: Float64Array, at: number, count: number): number {
  const first = Math.min(count, ring.length - at);
  ring.set(from.subarray(0, first), at);
  if (first < count) ring.set(from.subarray(first, count), 0);
  return (at + count) % ring.length;
}

/** Takes the top off what was heard, and adds it to the sum of all lines. */
function soften(heard: Float64Array, out: Float64Array, sum: Float64Array, count: number, dull: number): void {
  const own = 1 - dull;
  for (let i = 0; i < count; i++) {
    const y = (heard[i + 1] as number) * own + (heard[i] as number) * dull;
    out[i] = y;
    sum[i] = (sum[i] as number) + y;
  }
}

function addTo(into: Float64Array, from: Float64Array, count: number, level: number): void {
  for (let i = 0; i < count; i++) into[i] = (into[i] as number) + (from[i] as number) * level;
}

/** The Householder matrix, each line less a quarter of all eight; and what is fresh. */
function feedBack(
  out: Float64Array,
  quarter: Float64Array,
  fresh: Float64Array,
  count: number,
  gain: number,
  sign: number,
): void {
  for (let i = 0; i < count; i++)
    out[i] = ((out[i] as number) - (quarter[i] as number)) * gain + (fresh[i] as number) * sign + FAINT;
}
