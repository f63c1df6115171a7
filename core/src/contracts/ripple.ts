import { array, type InferType, number, object } from 'yup';

import type { SettingChange } from '../desk/diff-states';
import { idShape, signatureShape } from '../fault/text-shapes';
import { MOST_MOVED, settingsShape, valuesByAddress } from './desk';
import type { JobView } from './job';

/** Scenes that one change is written into at once. */
export const MAX_RIPPLED_SCENES = 500;

/** Values to be written into scenes, and by how much to move others from where each scene has them; the rest stays as it is. */
export const rippleShape = settingsShape
  .shape({
    offsets: valuesByAddress<number>(MOST_MOVED).default({}),
    scenes: array(object({ id: idShape.required(), revision: number().integer().required() }).noUnknown())
      .required()
      .min(1, 'choose at least one scene')
      .max(MAX_RIPPLED_SCENES, `at most ${MAX_RIPPLED_SCENES} scenes at once`),
    by: signatureShape,
  })
  .noUnknown();

export type RippleRequest = InferType<typeof rippleShape>;

export interface RippleView extends JobView {
  readonly id: string;
  /** Once it is done, the scenes that hold the change now, under the names and numbers of those they stand in for. */
  readonly scenes: readonly { readonly old: string; readonly id: string }[];
  readonly undone: boolean;
}

/** What a ripple would change in one scene. */
export interface RipplePreview {
  readonly id: string;
  readonly changes: readonly SettingChange[];
}
