import { array, type InferType, object, string } from 'yup';

import type { SettingsByAddress } from '../desk/state';
import { Fault } from '../fault/fault';
import { idShape } from '../fault/text-shapes';
import type { StoredDepth } from '../signal/wav-header';
import type { RenderMeasurements } from '../sound/analyse-render';
import { MAX_TRIALS, MIN_TRIALS } from '../sound/blind-test';
import { PAN_LAWS } from '../sound/pan-law';
import { recipeShape } from './combination';
import { MOST_SETTINGS, valuesByAddress } from './desk';
import type { JobView } from './job';
import { type Recall, recallShape } from './restore';

/** The rate at which mixes are worked out, in Hz. */
export const MIX_RATE = 48_000;
/** Mixes are sent to who listens in pieces of so many seconds. */
export const PIECE_SECONDS = 2;
/** How often a piece was halved so that nothing of it is over full scale: the name of a header. */
export const HALVED_HEADER = 'Old-Echo-Halved';
/** Silence kept behind the longest stem, so that what rings on can end, in seconds. */
export const TAIL_SECONDS = 2;
/** The largest stem that is taken, in bytes: an hour of two channels at 192 kHz, as floats. */
export const MAX_STEM_BYTES = 8_000_000_000;

export const stemTooLargeFault = (bytes: number): Fault =>
  new Fault(
    'refused-input',
    `The file is ${(bytes / 1e6).toFixed(0)} MB; the limit is ${MAX_STEM_BYTES / 1e6} MB.`,
    'Nothing was saved. Trim it to what you mix.',
  );

/** A recording that feeds one strip of a production. */
export interface StemView {
  readonly strip: string;
  /** The name of the file it came from. */
  readonly name: string;
  /** SHA-256 of the file. */
  readonly hash: string;
  readonly rate: number;
  readonly channels: number;
  readonly depth: StoredDepth;
  readonly seconds: number;
  /** Where in the song it begins, by the time references of the stems, in seconds. */
  readonly start: number;
  /** The file it came from, so that it is known again: its bytes, and when it was changed last, in ms since 1970; null where nobody knows. */
  readonly cameFrom: { readonly bytes: number; readonly modified: number } | null;
  /** Whether its file is missing on the disk: it is not heard then. */
  readonly missing: boolean;
  /** Whether every sample of it is nothing. */
  readonly silent: boolean;
  /** Its highest sample, in dB of full scale; null for silence, or where nobody has looked. */
  readonly peak: number | null;
}

/**
 * A mix to be worked out from the stems of a production: a scene's, one that would be combined, what is on a desk now, or what
 * a recall would make of that desk.
 */
export const renderShape = object({
  productionId: idShape.required(),
  sceneId: idShape.optional(),
  recipe: recipeShape.optional().default(undefined),
  deskId: idShape.optional(),
  recall: recallShape.optional().default(undefined),
  /** Settings put over all that, by address, to be heard and sent nowhere. */
  settings: valuesByAddress(MOST_SETTINGS),
  /** The main, mix or matrix that is listened to. */
  output: string().max(12).required(),
  /** Only this strip, through everything. */
  solo: string().max(12).nullable().default(null),
  law: string().oneOf(PAN_LAWS).default('constant power'),
})
  .noUnknown()
  .required()
  .test(
    'one state',
    'a scene, a recipe or a desk must be named',
    ({ sceneId, recipe, deskId }) => [sceneId, recipe, deskId].filter((one) => one !== undefined).length === 1,
  );

export type RenderRequest = Omit<InferType<typeof renderShape>, 'recall' | 'settings'> & {
  readonly recall?: Recall | undefined;
  readonly settings?: SettingsByAddress | undefined;
};

/** The longest that an answer waits for a mix to end, in ms. */
export const MAX_POLL_WAIT_MS = 1000;

/** `done` and `total` count samples of the mix. */
export interface RenderView extends JobView {
  /** Names the sound: equal ids are the same sound. */
  readonly id: string;
  /** Of all of it once it is done; while it is rendered, of what is there. */
  readonly measured: RenderMeasurements | null;
}

const letterShape = string().oneOf(['A', 'B']).required();
/** A side of a comparison: a scene's id, or the name of a sound. */
const sideShape = string()
  .matches(/^[0-9A-Za-z]{26,64}$/, '${path} must name a scene or a sound')
  .required();

/** A blind test that was done: what was compared, and every answer. */
export const blindTestShape = object({
  productionId: idShape.required(),
  a: sideShape,
  b: sideShape,
  /** What was listened to, in words. */
  heard: string().trim().max(200).default(''),
  trials: array(object({ hidden: letterShape, said: letterShape }).noUnknown())
    .min(MIN_TRIALS, `a result takes at least ${MIN_TRIALS} answers`)
    .max(MAX_TRIALS, `at most ${MAX_TRIALS} answers are kept`)
    .required(),
})
  .noUnknown()
  .required();

export type NewBlindTest = InferType<typeof blindTestShape>;

export interface BlindTestView {
  readonly id: string;
  readonly heard: string;
  readonly right: number;
  readonly trials: number;
  /** When it was done, ISO 8601. */
  readonly madeAt: string;
}
