/** Samples of one or more channels of the same length; full scale is −1 … 1. */
export interface PcmAudio {
  /** Samples per second. */
  readonly rate: number;
  readonly channels: readonly Float32Array[];
}

/** How many samples each channel has. */
export const frameCount = ({ channels }: PcmAudio): number => channels[0]?.length ?? 0;

/** A level in dB as a factor. */
export const dbToFactor = (decibels: number): number => 10 ** (decibels / 20);

/** A factor as a level in dB; 0 is −Infinity. */
export const factorToDb = (by: number): number => 20 * Math.log10(by);

/**
 * How a smoothed value moves from one sample to the next: after `seconds` it has gone 63 % of a step, 1 − 1/e.
 * 0 for no time at all.
 */
export const onePoleCoefficient = (seconds: number, rate: number): number =>
  seconds > 0 ? Math.exp(-1 / (seconds * rate)) : 0;
