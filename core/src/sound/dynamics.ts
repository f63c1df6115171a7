import { dbToFactor, onePoleCoefficient } from '../signal/sound';
import type { CompressorCurve } from '../signal/static-curve';
import type { BlockProcessor } from './block-processor';
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
export const GATE_DETECTOR_SECONDS = 0.02;

/** A step that gates both channels together. It opens at the first sample that reaches the threshold. */
export function createGate(set: GateSettings, rate: number): BlockProcessor {
  const { at, gate, restGate } = kernels();
  const closed = dbToFactor(-set.range);
  restGate(closed);
  const times = [set.attack, set.release, GATE_DETECTOR_SECONDS].map((seconds) => onePoleCoefficient(seconds, rate));
  const [attack = 0, release = 0, fall = 0] = times;
  const hold = Math.round(set.hold * rate);
  return {
    run: (frames) => gate(frames, dbToFactor(set.threshold), closed, attack, release, fall, hold),
    memory: [[at.GATE, at.GATE_SIZE]],
  };
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
  const { at, compress, restCompressor } = kernels();
  restCompressor();
  const [attack, release] = [onePoleCoefficient(set.attack, rate), onePoleCoefficient(set.release, rate)];
  const knee = Math.max(MIN_KNEE_DB, set.knee) / DB_PER_OCTAVE_OF_GAIN;
  const bends = set.threshold / DB_PER_OCTAVE_OF_GAIN - knee / 2;
  const [wet, dry] = [set.mix * dbToFactor(set.makeup), 1 - set.mix];
  return {
    run: (frames) => compress(frames, bends, knee, 1 / set.ratio - 1, attack, release, wet, dry),
    memory: [[at.COMPRESSOR, at.COMPRESSOR_SIZE]],
  };
}
