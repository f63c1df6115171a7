import type { StripState } from '../desk/state';
import { dbToFactor, factorToDb } from './sound';

/** What a compressor is set to. */
export interface CompressorCurve {
  /** dB of full scale. */
  readonly threshold: number;
  /** How many dB in make one dB out, above the threshold; 1 or more. */
  readonly ratio: number;
  /** dB over which the bend is spread, around the threshold. */
  readonly knee: number;
}

/**
 * The gain of a compressor for an input level, in dB; 0 or less, make-up left out. Soft knee after D. Giannoulis, M. Massberg
 * and J. D. Reiss, "Digital Dynamic Range Compressor Design", J. Audio Eng. Soc. 60 (2012), equation 4 (from memory).
 */
export function compressorGain({ threshold, ratio, knee }: CompressorCurve, level: number): number {
  const over = level - threshold;
  const slope = 1 / ratio - 1;
  if (2 * over <= -knee) return 0;
  if (2 * over >= knee) return slope * over;
  return (slope * (over + knee / 2) ** 2) / (2 * knee);
}

/** A strip's compressor settings, or undefined while it is off or missing. */
export const compressorCurveOf = (strip: StripState): CompressorCurve | undefined =>
  strip['compressor/on'] === true
    ? {
        threshold: Number(strip['compressor/threshold'] ?? 0),
        ratio: Math.max(1, Number(strip['compressor/ratio'] ?? 1)),
        knee: Number(strip['compressor/knee'] ?? 0),
      }
    : undefined;

/** What a strip's compressor makes of levels: dB out for each of `levels` in, with make-up and its share of dry sound. */
export function compressorCurve(strip: StripState, levels: readonly number[]): number[] {
  const set = compressorCurveOf(strip);
  if (!set) return [...levels];
  const makeup = Number(strip['compressor/makeup'] ?? 0);
  const wet = Number(strip['compressor/mix'] ?? 100) / 100;
  return levels.map((level) => {
    const gain = dbToFactor(compressorGain(set, level) + makeup);
    return level + factorToDb(wet * gain + 1 - wet);
  });
}

/** What a strip's gate makes of levels: dB out for each of `levels` in, once it has opened or closed. */
export function gateCurve(strip: StripState, levels: readonly number[]): number[] {
  if (strip['gate/on'] !== true) return [...levels];
  const [threshold, range] = [Number(strip['gate/threshold'] ?? 0), Number(strip['gate/range'] ?? 0)];
  return levels.map((level) => (level >= threshold ? level : level - range));
}

/** Input levels over which static curves are drawn and compared, in dB of full scale: −60 … 0. */
export const CURVE_INPUT_LEVELS_DB: readonly number[] = Array.from({ length: 61 }, (_, i) => i - 60);
