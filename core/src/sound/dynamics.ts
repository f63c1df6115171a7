import { compressorGain, type Compression } from '../compare/static-curve';
import { decibels, factor, smoothing } from './sound';

/** Times in seconds, levels in dB. */
export interface Gate {
  readonly threshold: number;
  /** How much a closed gate takes away, 0 or more. */
  readonly range: number;
  readonly attack: number;
  readonly hold: number;
  readonly release: number;
}

export interface Compressor extends Compression {
  readonly attack: number;
  readonly release: number;
  /** dB. */
  readonly makeup: number;
  /** How much of the compressed sound is in the sum, 0 … 1. */
  readonly mix: number;
}

/** How fast the level that a gate listens to falls, in seconds: slower than a bass note's period. */
const LISTENING = 0.02;

/** Gates channels together, in place. Opens at the first sample that reaches the threshold. */
export function gate(set: Gate, channels: readonly Float32Array[], rate: number): void {
  const [threshold, closed] = [factor(set.threshold), factor(-set.range)];
  const [attack, release, fall] = [
    smoothing(set.attack, rate),
    smoothing(set.release, rate),
    smoothing(LISTENING, rate),
  ];
  const held = Math.round(set.hold * rate);
  const [first] = channels;
  let [level, gain, left] = [0, closed, 0];
  for (let i = 0; i < (first?.length ?? 0); i++) {
    level = Math.max(level * fall, peakAt(channels, i));
    if (level >= threshold) left = held;
    const target = level >= threshold || left-- > 0 ? 1 : closed;
    gain = target + (gain - target) * (target > gain ? attack : release);
    for (const channel of channels) channel[i] = (channel[i] as number) * gain;
  }
}

/**
 * Compresses channels together, in place: the louder one sets the gain. Level and gain in dB, smoothed with one time
 * constant each way, so that after the attack time 63 % of the gain's step is reached.
 */
export function compress(set: Compressor, channels: readonly Float32Array[], rate: number): void {
  const [attack, release] = [smoothing(set.attack, rate), smoothing(set.release, rate)];
  const bends = factor(set.threshold - set.knee / 2);
  const [wet, dry] = [set.mix * factor(set.makeup), 1 - set.mix];
  const [one, other] = [channels[0] ?? new Float32Array(0), channels[1] ?? channels[0] ?? new Float32Array(0)];
  const curve = curveTable(set);
  let gain = 0;
  for (let i = 0; i < one.length; i++) {
    const peak = Math.max(Math.abs(one[i] as number), Math.abs(other[i] as number));
    const target = peak > bends ? (curve[tableAt(peak)] as number) : 0;
    gain = target + (gain - target) * (target < gain ? attack : release);
    // What is under a thousandth of a dB is none: silence stays silence, and numbers do not become too small to count with.
    if (gain > -0.001 && target === 0) gain = 0;
    const by = dry + wet * (gain === 0 ? 1 : factorOf(gain));
    if (by === 1) continue;
    one[i] = (one[i] as number) * by;
    if (other !== one) other[i] = (other[i] as number) * by;
  }
}

/** Steps per dB of the table of factors, and how far down it goes. */
const [STEPS, DEEPEST] = [64, 120];
const FACTORS = Float64Array.from({ length: STEPS * DEEPEST + 2 }, (_, i) => factor(-i / STEPS));

/** A gain of 0 dB or less as a factor, straight between the steps of a table: within a millionth. */
function factorOf(gain: number): number {
  const at = Math.min(DEEPEST, -gain) * STEPS;
  const step = at | 0;
  const from = FACTORS[step] as number;
  return from + ((FACTORS[step + 1] as number) - from) * (at - step);
}

/** Steps of the tables of static curves for each doubling of the level: 6 dB / 1024, finer than anyone hears. */
const FINE = 10;
/** The lowest level of the tables, as a power of two: -120 dB. */
const LOWEST = -20;
/** The highest: +24 dB. */
const HIGHEST = 4;

const single = new Float32Array(1);
const bits = new Uint32Array(single.buffer);

/** Where a level stands in a table: the upper bits of a single-precision number are its logarithm, nearly. */
function tableAt(level: number): number {
  single[0] = level;
  const at = ((bits[0] as number) >>> (23 - FINE)) - ((127 + LOWEST) << FINE);
  return at < 0 ? 0 : at < TABLE ? at : TABLE - 1;
}
const TABLE = (HIGHEST - LOWEST) << FINE;

/** The gain of a compressor in dB for every level of the tables: working it out at each sample would take four times as long. */
function curveTable(set: Compression): Float64Array {
  return Float64Array.from({ length: TABLE }, (_, at) => {
    const step = at & ((1 << FINE) - 1);
    const level = 2 ** ((at >> FINE) + LOWEST) * (1 + (step + 0.5) / (1 << FINE));
    return compressorGain(set, decibels(level));
  });
}

function peakAt(channels: readonly Float32Array[], i: number): number {
  let peak = 0;
  for (const channel of channels) {
    const x = channel[i] as number;
    if (x > peak) peak = x;
    else if (-x > peak) peak = -x;
  }
  return peak;
}

/** How far a limiter looks ahead, in seconds. */
const AHEAD = 0.0015;

/**
 * Keeps channels together at or under `ceiling` dB, in place. It looks ahead, so it is down before a peak comes: the gain is
 * the mean of the lowest gains needed in a short time around each sample, which is never more than is needed at it.
 */
export function limit(ceiling: number, release: number, channels: readonly Float32Array[], rate: number): void {
  const most = factor(ceiling);
  const frames = channels[0]?.length ?? 0;
  const ahead = Math.max(1, Math.round(AHEAD * rate));
  const rise = smoothing(release, rate);
  const needed = new Float64Array(frames + ahead).fill(1);
  let any = false;
  for (let i = 0; i < frames; i++) {
    const peak = peakAt(channels, i);
    if (peak > most) {
      needed[i] = most / peak;
      any = true;
    }
  }
  if (!any) return;
  const lowest = slidingMinimum(needed, ahead);
  let gain = 1;
  const released = lowest.map((low) => (gain = Math.min(low, 1 + (gain - 1) * rise)));
  let sum = ahead;
  for (let i = 0; i < frames; i++) {
    sum += (released[i] as number) - (i >= ahead ? (released[i - ahead] as number) : 1);
    const by = Math.min(sum / ahead, needed[i] as number);
    for (const channel of channels) channel[i] = (channel[i] as number) * by;
  }
}

/** The lowest of each value and the `ahead` values after it. */
function slidingMinimum(values: Float64Array, ahead: number): Float64Array {
  const found = new Float64Array(values.length);
  const queue: number[] = [];
  let head = 0;
  for (let i = values.length - 1; i >= 0; i--) {
    while (queue.length > head && (values[queue[queue.length - 1] as number] as number) >= (values[i] as number))
      queue.pop();
    queue.push(i);
    while ((queue[head] as number) > i + ahead) head++;
    found[i] = values[queue[head] as number] as number;
  }
  return found;
}
