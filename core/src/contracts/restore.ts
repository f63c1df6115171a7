import { object, string, type InferType } from 'yup';

import type { Value } from '../desk/setting';
import type { Stage } from '../preview/order';
import { scopeShape, type Scope } from '../scope/rules';
import { idShape } from './scene';

export const previewRequestShape = object({ sceneId: idShape.required(), scope: scopeShape }).noUnknown().required();

export const restoreRequestShape = object({
  sceneId: idShape.required(),
  scope: scopeShape,
  /** The fingerprint of the preview that was looked at. */
  fingerprint: string().length(64).required(),
})
  .noUnknown()
  .required();

export type RestoreRequest = InferType<typeof restoreRequestShape>;

/** A setting that did not end where the preview put it. */
export interface Unconfirmed {
  readonly address: string;
  readonly wanted: Value;
  /** What the desk was last known to hold, or null where nothing was heard. */
  readonly found: Value | null;
  /** A sentence. */
  readonly why: string;
}

export interface RestoreReport {
  readonly confirmed: number;
  readonly unconfirmed: readonly Unconfirmed[];
  /** Strips that a hand moved during the restore; they were left alone from then on. */
  readonly handled: readonly string[];
  /** Strips muted for the restore that could not be opened again. */
  readonly leftMuted: readonly string[];
  readonly milliseconds: number;
}

export interface RestoreProgress {
  readonly stage: Stage | 'verify';
  readonly done: number;
  readonly total: number;
}

/**
 * `running`, then one of: `confirmed`, every setting was read back; `incomplete`, the report says what was not;
 * `interrupted`, Old Echo itself stopped in the middle.
 */
export type RestoreStatus = 'running' | 'confirmed' | 'incomplete' | 'interrupted';

export interface RestoreView {
  readonly id: string;
  readonly deskId: string;
  readonly sceneId: string;
  readonly sceneName: string;
  readonly sceneNumber: number;
  readonly status: RestoreStatus;
  readonly scope: Scope;
  readonly changes: number;
  /** Where to go to undo it: the scene kept before it began, and the scope that covers all it touched. */
  readonly wayBack: { readonly sceneId: string; readonly scope: Scope };
  readonly progress: RestoreProgress | null;
  readonly report: RestoreReport | null;
  readonly startedAt: string;
}
