import { array, number, object, type InferType } from 'yup';

import type { SettingChange } from '../scene/drift';
import { settingsShape } from './desk';
import { idShape, whoShape } from './words';

/** Scenes that one change is written into at once. */
export const MOST_RIPPLED = 500;

/** Values to be written into scenes, which are otherwise left as they are. */
export const rippleShape = settingsShape
  .shape({
    scenes: array(object({ id: idShape.required(), revision: number().integer().required() }).noUnknown())
      .required()
      .min(1, 'choose at least one scene')
      .max(MOST_RIPPLED, `at most ${MOST_RIPPLED} scenes at once`),
    by: whoShape,
  })
  .noUnknown();

export type RippleRequest = InferType<typeof rippleShape>;

export interface RippleView {
  readonly id: string;
  /** The scenes that hold the change now, under the names and numbers of those they stand in for. */
  readonly scenes: readonly { readonly old: string; readonly id: string }[];
  readonly undone: boolean;
}

/** What a ripple would change in one scene. */
export interface RipplePreview {
  readonly id: string;
  readonly changes: readonly SettingChange[];
}
