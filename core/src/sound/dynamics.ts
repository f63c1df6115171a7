import type { Compression } from '../compare/static-curve';
import type { Step } from './blocks';
import { kernels } from './kernels';
import { factor, smoothing } from './sound';

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

/** A step that gates both channels together. It opens at the first sample that reaches the threshold. */
export function gating(set: Gate, rate: number): Step {
  const { gate: run, restGate } = kernels();
  const closed = factor(-set.range);
  restGate(closed);
  const times = [set.attack, set.release, LISTENING].map((seconds) => smoothing(seconds, rate));
  const [attack = 0, release = 0, fall = 0] = times;
  const hold = Math.round(set.hold * rate);
  return (frames) => run(frames, factor(set.threshold), closed, attack, release, fall, hold);
}

/** One doubling of a level, in dB. */
const DOUBLING = 20 * Math.log10(2);
/** The narrowest knee, in dB: as good as none. */
const NARROWEST = 0.001;

/**
 * A step that compresses both channels together: the louder one sets the gain. Level and gain in dB, smoothed with one time
 * constant each way, so that after the attack time 63 % of the gain's step is reached. Its static curve is that of
 * `compressorGain`, worked out by the kernels in doublings.
 */
export function compressing(set: Compressor, rate: number): Step {
  const { compress: run, restCompressor } = kernels();
  restCompressor();
  const [attack, release] = [smoothing(set.attack, rate), smoothing(set.release, rate)];
  const knee = Math.max(NARROWEST, set.knee) / DOUBLING;
  const bends = set.threshold / DOUBLING - knee / 2;
  const [wet, dry] = [set.mix * factor(set.makeup), 1 - set.mix];
  return (frames) => run(frames, bends, knee, 1 / set.ratio - 1, attack, release, wet, dry);
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
