import { number, object } from 'yup';

/** From where on a restore is cautioned against, in dB. The values are common practice; a desk can only tighten them. */
export const DEFAULT_THRESHOLDS = {
  /** A path to a main or a matrix gets louder. */
  path: 6,
  /** A path to a mix gets louder: someone may have it in their ears. */
  monitor: 6,
  /** A main, a matrix or a DCA rises, or all of an output together. */
  master: 3,
  /** Preamp gain rises on an open path. */
  gain: 6,
} as const;

/** A path that carries less than this, in dB, is not heard. Common practice. */
export const AUDIBLE_PATH_GAIN_DB = -40;

/** Who rises by so many thresholds, or opens by so much above what is heard, is asked for in the studio too. Our own choice. */
export const FAR = 4;

/** A band this narrow can make an open microphone ring; in octaves between the points where half of it is left. Common practice. */
export const NARROW = 1;

/** A narrow band that rises by this much, in dB, can make an open microphone ring. Common practice. */
export const RINGS_FROM = 3;

/** Repeats that come back with this share of the last, in percent, hardly die away. Common practice. */
export const HARDLY_DIES = 90;

const atMost = (loosest: number) => number().min(0).max(loosest).default(loosest);

export const thresholdsShape = object({
  path: atMost(DEFAULT_THRESHOLDS.path),
  monitor: atMost(DEFAULT_THRESHOLDS.monitor),
  master: atMost(DEFAULT_THRESHOLDS.master),
  gain: atMost(DEFAULT_THRESHOLDS.gain),
}).noUnknown();

/** In dB. */
export interface Thresholds {
  readonly path: number;
  readonly monitor: number;
  readonly master: number;
  readonly gain: number;
}
