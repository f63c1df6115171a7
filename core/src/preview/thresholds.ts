import { number, object, type InferType } from 'yup';

/** From where on a restore is cautioned against, in dB. The values are common practice; a desk can only tighten them. */
export const THRESHOLDS = {
  /** A path to a main or a matrix gets louder. */
  path: 6,
  /** A path to a mix gets louder: someone may have it in their ears. */
  monitor: 6,
  /** A main, a matrix or a DCA rises. */
  master: 3,
  /** Preamp gain rises on an open path. */
  gain: 6,
} as const;

/** A path that carries less than this, in dB, is not heard. Common practice. */
export const HEARD_FROM = -40;

const tighter = (loosest: number) => number().min(0).max(loosest).default(loosest);

export const thresholdsShape = object({
  path: tighter(THRESHOLDS.path),
  monitor: tighter(THRESHOLDS.monitor),
  master: tighter(THRESHOLDS.master),
  gain: tighter(THRESHOLDS.gain),
}).noUnknown();

export type Thresholds = InferType<typeof thresholdsShape>;
