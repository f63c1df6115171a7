import { type InferType, lazy, number, object } from 'yup';

import type { Recipe } from '../combine/recipe';
import { idShape, nameShape, noteShape } from '../fault/text-shapes';

/** The most cells that are picked by hand. */
const MAX_PICKS = 20_000;
const CELL = /^[a-z]+\.\d+\/[a-z]+$/;

/** Cells (`in.7/eq`) and the scenes that they come from. */
const picksShape = lazy((picks: unknown) => {
  const cells = picks && typeof picks === 'object' ? Object.keys(picks) : [];
  const known = cells.filter((cell) => CELL.test(cell)).slice(0, MAX_PICKS);
  return object(Object.fromEntries(known.map((cell) => [cell, idShape.required()])))
    .noUnknown(true, `\${path} holds at most ${MAX_PICKS} cells, as in.7/eq`)
    .required();
});

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
