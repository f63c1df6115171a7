import type { Loudness } from './loudness';

/** How loud something is to be where it goes. */
export interface LoudnessTarget {
  /** LUFS. */
  readonly integrated: number;
  /** LU by which it may be off. */
  readonly tolerance: number;
  /** dBTP that it may have at most. */
  readonly truePeak: number;
}

/** EBU R 128: −23 LUFS within half an LU, and a true peak of −1 dBTP at most. */
export const EBU_R_128: LoudnessTarget = { integrated: -23, tolerance: 0.5, truePeak: -1 };

/** What a mix is over a target, or under it. */
export interface OverTarget {
  /** LU over the target, negative under it; null for silence. */
  readonly loudness: number | null;
  readonly isLoudnessRight: boolean;
  /** dB over the highest true peak allowed, negative under it; null for silence. */
  readonly peak: number | null;
  readonly isPeakRight: boolean;
  /** dB over that peak, negative under it, once the mix is turned to the target; null for silence. */
  readonly peakAtTarget: number | null;
}

/** Less than this is what rounding to a tenth makes, in dB. */
const ROUNDING = 1e-9;

/** Holds what was measured of a mix against a target. */
export function overTarget({ integrated, truePeak }: Loudness, target: LoudnessTarget): OverTarget {
  const loudness = integrated === null ? null : integrated - target.integrated;
  const peak = truePeak === null ? null : truePeak - target.truePeak;
  return {
    loudness,
    isLoudnessRight: loudness === null || Math.abs(loudness) <= target.tolerance + ROUNDING,
    peak,
    isPeakRight: peak === null || peak <= ROUNDING,
    peakAtTarget: peak === null || loudness === null ? null : peak - loudness,
  };
}
