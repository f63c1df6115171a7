import { dbToFactor, onePoleCoefficient } from '../signal/sound';
import type { CompressorCurve } from '../signal/static-curve';
import type { BlockProcessor } from './process-blocks';
import { kernels } from './wasm-kernels';

/** Times in seconds, levels in dB. */
interface GateSettings {
  readonly threshold: number;
  /** How much a closed gate takes away, 0 or more. */
  readonly range: number;
  readonly attack: number;
  readonly hold: number;
  readonly release: number;
}

interface CompressorSettings extends CompressorCurve {
  readonly attack: number;
  readonly release: number;
  /** dB. */
  readonly makeup: number;
  /** How much of the compressed sound is in the sum, 0 … 1. */
  readonly mix: number;
}

/** How fast the level that a gate listens to falls, in seconds: slower than a bass note's period. */
const GATE_DETECTOR_SECONDS = 0.02;

/** A step that gates both channels together. It opens at the first sample that reaches the threshold. */
export function createGate(set: GateSettings, rate: number): BlockProcessor {
  const { gate: run, restGate } = kernels();
  const closed = dbToFactor(-set.range);
  restGate(closed);
  const times = [set.attack, set.release, GATE_DETECTOR_SECONDS].map((seconds) => onePoleCoefficient(seconds, rate));
  const [attack = 0, release = 0, fall = 0] = times;
  const hold = Math.round(set.hold * rate);
  return (frames) => run(frames, dbToFactor(set.threshold), closed, attack, release, fall, hold);
}

/** One doubling of a level, in dB. */
const DB_PER_OCTAVE_OF_GAIN = 20 * Math.log10(2);
/** The narrowest knee, in dB: as good as none. */
const MIN_KNEE_DB = 0.001;

/**
 * A step that compresses both channels together: the louder one sets the gain. Level and gain in dB, smoothed with one time
 * constant each way, so that after the attack time 63 % of the gain's step is reached. Its static curve is that of
 * `compressorGain`, worked out by the kernels in doublings.
 */
export function createCompressor(set: CompressorSettings, rate: number): BlockProcessor {
  const { compress: run, restCompressor } = kernels();
  restCompressor();
  const [attack, release] = [onePoleCoefficient(set.attack, rate), onePoleCoefficient(set.release, rate)];
  const knee = Math.max(MIN_KNEE_DB, set.knee) / DB_PER_OCTAVE_OF_GAIN;
  const bends = set.threshold / DB_PER_OCTAVE_OF_GAIN - knee / 2;
  const [wet, dry] = [set.mix * dbToFactor(set.makeup), 1 - set.mix];
  return (frames) => run(frames, bends, knee, 1 / set.ratio - 1, attack, release, wet, dry);
}

/** How far a limiter looks ahead, in seconds. */
const LOOKAHEAD_SECONDS = 0.0015;

/**
 * Keeps channels together at or under `ceiling` dB, in place. It looks ahead, so it is down before a peak comes: the gain is
 * the mean of the lowest gains needed in a short time around each sample, which is never more than is needed at it.
 */
export function limit(ceiling: number, release: number, channels: readonly Float32Array[], rate: number): void {
  const most = dbToFactor(ceiling);
  const ahead = Math.max(1, Math.round(LOOKAHEAD_SECONDS * rate));
  const lowest = lookaheadGains(channels, most, ahead);
  if (!lowest) return;
  const rise = onePoleCoefficient(release, rate);
  const last = new Float64Array(ahead).fill(1);
  let [gain, sum] = [1, ahead];
  for (let i = 0; i < lowest.length; i++) {
    gain = Math.min(lowest[i]!, 1 + (gain - 1) * rise);
    sum += gain - last[i % ahead]!;
    last[i % ahead] = gain;
    // A sum of many numbers is not exact: what needs no less stays exactly as it is.
    lowest[i] = sum > ahead - 1e-9 ? 1 : sum / ahead;
  }
  for (const channel of channels)
    for (let i = 0; i < channel.length; i++) channel[i] = clip(channel[i]! * lowest[i]!, most);
}

const clip = (sample: number, most: number): number => Math.max(-most, Math.min(most, sample));

/** The lowest gain that any sample needs from each one to `ahead` behind it; undefined where none needs less than 1. */
function lookaheadGains([left, right]: readonly Float32Array[], most: number, ahead: number): Float64Array | undefined {
  let lowest: Float64Array | undefined;
  const frames = left?.length ?? 0;
  for (let i = 0; i < frames; i++) {
    const peak = Math.max(Math.abs(left?.[i] ?? 0), Math.abs(right?.[i] ?? 0));
    if (peak <= most) continue;
    lowest ??= new Float64Array(frames).fill(1);
    const needed = most / peak;
    // From the peak backwards, until an earlier one needs no more: that has been there all the way already.
    for (let at = i; at >= Math.max(0, i - ahead) && lowest[at]! > needed; at--) lowest[at] = needed;
  }
  return lowest;
}
