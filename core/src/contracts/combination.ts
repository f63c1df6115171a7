import { type InferType, lazy, mixed, number, object } from 'yup';

import type { Picks, Recipe } from '../combine/recipe';
import { isRecord } from '../fault/is-record';
import { idShape, isId, nameShape, noteShape, signatureShape } from '../fault/text-shapes';

/** The most cells that are picked by hand. */
const MAX_PICKS = 20_000;
const CELL = /^[a-z]+\.\d+\/[a-z]+$/;

const isPicks = (value: unknown): boolean => {
  const picks = isRecord(value) ? Object.entries(value) : [];
  return picks.length <= MAX_PICKS && picks.every(([cell, scene]) => CELL.test(cell) && isId(scene));
};

/** Cells (`in.7/eq`) and the scenes that they come from. */
const picksShape = lazy(() =>
  mixed<Picks>()
    .default({})
    .test('record', '${path} must be an object', isRecord)
    .test('picks', `\${path} holds at most ${MAX_PICKS} cells with a scene each, as in.7/eq`, isPicks),
);

/**
 * How a scene is made out of several: the scene that everything comes from unless something else is said; the line of work
 * that is brought in, from the nearest scene that both come from; and cells that come from a named scene. A cell of the base
 * that is named settles a conflict.
 */
export const recipeShape = object({
  base: idShape.required(),
  merge: object({ scene: idShape.required(), parent: idShape.required() }).noUnknown().nullable().default(null),
  picks: picksShape,
})
  .noUnknown()
  .required();

/** Begins to combine: `merge` names the scene of another line that is brought in whole; without it cells are picked. */
export const newCombinationShape = object({
  base: idShape.required(),
  merge: idShape.nullable().default(null),
  picks: picksShape,
})
  .noUnknown()
  .required();

export const combinationEditShape = object({
  picks: picksShape,
  /** The revision that was edited, so that a change by someone else is not written over. */
  revision: number().integer().required(),
})
  .noUnknown()
  .required();

export const saveCombinationShape = object({
  name: nameShape('a scene').required('a scene needs a name'),
  note: noteShape.default(''),
  revision: number().integer().required(),
  by: signatureShape,
})
  .noUnknown()
  .required();

export type NewCombination = Pick<Recipe, 'base' | 'picks'> & { readonly merge: string | null };
export type SaveCombination = InferType<typeof saveCombinationShape>;

/** A scene in the making, which can be left and gone on with. */
export interface CombinationView {
  readonly id: string;
  readonly productionId: string;
  /** The version that its scene will be in: that of its base. */
  readonly versionId: string;
  readonly recipe: Recipe;
  /** ISO 8601, UTC. */
  readonly changedAt: string;
  readonly revision: number;
}
