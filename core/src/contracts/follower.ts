import { array, object } from 'yup';

import { idShape, signatureShape } from '../fault/text-shapes';

/** Versions that are to take over what the ones they follow have gained. */
export const catchUpShape = object({
  versions: array(idShape.required()).required().min(1).max(100),
  by: signatureShape,
})
  .noUnknown()
  .required();

/** A version that follows another and is behind it. */
export interface FollowerView {
  readonly versionId: string;
  readonly followsId: string;
  /** Its newest scene, and the newest of the version that it follows. */
  readonly base: string;
  readonly merge: string;
  /** The scene up to which it has taken everything over. */
  readonly parent: string;
  /** Scenes that it has not taken over. */
  readonly behind: number;
  /** Settings that would change in it. */
  readonly settings: number;
  /** Cells that it has otherwise than the scene up to which it follows: what it keeps. */
  readonly keeps: number;
  /** Cells that both changed. */
  readonly conflicts: number;
}

/** What became of one version: a scene that was kept, or a scene in the making where something is to be settled first. */
export interface CatchUpResult {
  readonly versionId: string;
  readonly sceneId: string | null;
  readonly combinationId: string | null;
}
