import { number, object, string, type InferType } from 'yup';

import { LONGEST_NAME } from '../scene/suggest-name';
import { scopeShape, type Scope } from '../scope/rules';

export const idShape = string().matches(/^[0-9A-HJKMNP-TV-Z]{26}$/, '${path} must be an id');

const name = string()
  .trim()
  .min(1, 'a scene needs a name')
  .max(LONGEST_NAME, `a name has at most ${LONGEST_NAME} characters`);
const note = string().trim().max(2000, 'a note has at most 2000 characters');
const milestone = string().trim().max(LONGEST_NAME);

export const captureShape = object({
  versionId: idShape.required(),
  name: name.required('a scene needs a name'),
  note: note.default(''),
  /** The stage reached, or empty. */
  milestone: milestone.default(''),
})
  .noUnknown()
  .required();

export const sceneEditShape = object({
  name: name.optional(),
  note: note.optional(),
  milestone: milestone.optional(),
  /** What a restore of this scene brings back unless told otherwise; null for everything. */
  scope: scopeShape.nullable().optional().default(undefined),
  /** The revision that was edited, so that a change by someone else is not written over. */
  revision: number().integer().required(),
})
  .noUnknown()
  .required();

export type Capture = InferType<typeof captureShape>;
export type SceneEdit = InferType<typeof sceneEditShape>;

/** A scene without its state. */
export interface SceneView {
  readonly id: string;
  readonly productionId: string;
  readonly versionId: string;
  /** Counts up through the production. */
  readonly number: number;
  readonly name: string;
  readonly note: string;
  readonly milestone: string;
  /** `way back`: captured by Old Echo itself before a restore. */
  readonly kind: 'scene' | 'way back';
  readonly parents: readonly string[];
  readonly scope: Scope | null;
  /** How far it is from its first parent. */
  readonly changed: { readonly settings: number; readonly strips: number };
  /** ISO 8601, UTC. */
  readonly madeAt: string;
  readonly revision: number;
}

export interface VersionView {
  readonly id: string;
  readonly name: string;
  /** The scene it was made from, or null where it begins with the production. */
  readonly fromSceneId: string | null;
}

export interface ProductionView {
  readonly id: string;
  readonly name: string;
  readonly kind: 'song' | 'show';
  readonly note: string;
  readonly deskId: string;
  readonly versions: readonly VersionView[];
}
