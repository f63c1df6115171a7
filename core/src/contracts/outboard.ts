import { array, type InferType, number, object, string } from 'yup';

import { noteShape } from '../fault/text-shapes';

/** The largest photo that is taken, in bytes. */
export const MAX_PHOTO_BYTES = 12_000_000;

/** A device beside the desk that no desk stores: its controls as one reads them. */
export const outboardShape = object({
  name: string().trim().required('a unit needs a name').max(80, 'a name can have up to 80 characters'),
  controls: array(
    object({
      name: string().trim().required('a control needs a name').max(40),
      value: string().trim().max(40).default(''),
    }).noUnknown(),
  )
    .max(60, 'a unit can have up to 60 controls')
    .default([]),
  note: noteShape.default(''),
})
  .noUnknown()
  .required();

export const outboardEditShape = outboardShape
  .shape({ revision: number().integer().required() })
  .noUnknown()
  .required();

export interface NewOutboard {
  readonly name: string;
  readonly controls: { name: string; value: string }[];
  readonly note: string;
}
export type OutboardEdit = InferType<typeof outboardEditShape>;

export interface OutboardView extends NewOutboard {
  readonly id: string;
  /** SHA-256 of its photo, or null. */
  readonly photo: string | null;
  readonly revision: number;
}
