import { combine, type CombineResult } from '@old-echo/core/combine/combine';
import { nearestCommonAncestor } from '@old-echo/core/combine/common-ancestor';
import type { Recipe } from '@old-echo/core/combine/recipe';
import { type Picks, recipeParents, recipeScenes } from '@old-echo/core/combine/recipe';
import {
  type CombinationView,
  type NewCombination,
  recipeShape,
  type SaveCombination,
} from '@old-echo/core/contracts/combination';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import type { Profile } from '@old-echo/core/desk/profile';
import type { State } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { plural } from '@old-echo/core/phrases/format-value';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import type { CombinationRow, SceneRow } from '../database/tables';
import { assertOfKind } from '../desk/same-profile';
import { loadState } from '../desk/scene-states';
import { insertScene } from '../scenes/insert-scene';
import { profileOfProduction } from '../scenes/production-store';
import { editConflict, loadParents, sceneRow } from '../scenes/scene-store';

/** A combination with where its scene will be. */
type Row = CombinationRow & Pick<SceneRow, 'version_id' | 'production_id'>;

const rows = (db: Database) =>
  db('combinations')
    .join('scenes', 'scenes.id', 'combinations.base_id')
    .select<Row[]>('combinations.*', 'version_id', 'production_id');

const viewOf = (row: Row): CombinationView => ({
  id: row.id,
  productionId: row.production_id,
  versionId: row.version_id,
  recipe: parseShape(recipeShape, fromJson(row.recipe)),
  changedAt: row.changed_at.toISOString(),
  revision: row.revision,
});

/** Scenes in the making in a production, the last changed first. */
export const combinations = async (db: Database, productionId: string): Promise<CombinationView[]> =>
  (await rows(db).where({ production_id: productionId }).orderBy('changed_at', 'desc')).map(viewOf);

/** @throws Fault `not-found` */
export async function combination(db: Database, id: string): Promise<CombinationView> {
  const row = await rows(db).where('combinations.id', id).first();
  if (!row)
    throw new Fault('not-found', 'This combination was saved or discarded.', 'Go back to the mixes, or begin again.');
  return viewOf(row);
}

/**
 * Begins to make a scene out of several.
 * @throws Fault `not-found`, `conflict` for a scene in the bin, `refused-input` for one of another kind of desk, or for two
 * lines that have nothing in common, or nothing to bring together
 */
export async function startCombination(db: Database, { base, merge, picks }: NewCombination): Promise<CombinationView> {
  const recipe: Recipe = {
    base,
    picks,
    merge: merge === null ? null : { scene: merge, parent: await ancestorFor(db, base, merge) },
  };
  await runRecipe(db, recipe);
  const id = newId();
  await db('combinations').insert({ id, base_id: base, recipe: toJson(recipe), changed_at: new Date() });
  return combination(db, id);
}

async function ancestorFor(db: Database, base: string, scene: string): Promise<string> {
  const [mine, theirs] = [await sceneRow(db, base), await sceneRow(db, scene)];
  const parent = nearestCommonAncestor(await loadParents(db, [mine.production_id, theirs.production_id]), base, scene);
  const [one, other] = [sceneTitle(mine), sceneTitle(theirs)];
  if (parent === null)
    throw new Fault(
      'refused-input',
      `${one} and ${other} have no scene in common.`,
      'Compare them, and take what you want from one into the other.',
    );
  if (parent === scene)
    throw new Fault('refused-input', `${one} already contains everything in ${other}.`, 'Choose a newer scene.');
  return parent;
}

/** Changes what is picked. @throws Fault `not-found`, `conflict` where someone else changed it since */
export async function editCombination(
  db: Database,
  id: string,
  { picks, revision }: { readonly picks: Picks; readonly revision: number },
): Promise<CombinationView> {
  const { recipe } = await combination(db, id);
  const next: Recipe = { ...recipe, picks };
  await runRecipe(db, next);
  const changed = await db('combinations')
    .where({ id, revision })
    .update({ recipe: toJson(next), changed_at: new Date(), revision: revision + 1 });
  if (changed === 0) throw editConflict('This combination');
  return combination(db, id);
}

export const discardCombination = (db: Database, id: string): Promise<number> =>
  db('combinations').where({ id }).delete();

/**
 * Makes the scene, in the version of its base, with all its parents; it is no longer in the making then.
 * @throws Fault `refused-input` where nothing is combined or something is not settled yet; else as {@link startCombination}
 */
export async function saveCombination(
  db: Database,
  id: string,
  { name, note, revision, by }: SaveCombination,
): Promise<SceneView> {
  const { recipe, versionId } = await combination(db, id);
  const { profile, combined } = await runRecipe(db, recipe);
  const { state, origins, unsettled, missing } = combined;
  if (unsettled.length > 0)
    throw new Fault(
      'refused-input',
      `${unsettled.length} ${unsettled.length === 1 ? 'section is' : 'sections are'} at odds.`,
      'Choose a side for each, or settle all by a rule.',
    );
  if (missing.length > 0)
    throw new Fault(
      'refused-input',
      `${plural(missing.length, 'section')} taken ${missing.length === 1 ? 'is' : 'are'} not on ${profile.name}: ${missing.slice(0, 3).join(', ')}.`,
      'Leave them out and try again.',
    );
  if (Object.keys(origins).length === 0 && !recipe.merge)
    throw new Fault('refused-input', 'Nothing was taken.', 'Take something from one of the other scenes first.');
  const scene = {
    versionId,
    name,
    note,
    milestone: '',
    kind: 'scene' as const,
    parents: recipeParents(recipe),
    state,
    madeAt: new Date(),
    by,
  };
  return insertScene(db, profile, scene, {
    before: async (tx) => {
      if ((await tx('combinations').where({ id, revision }).delete()) === 0) throw editConflict('This combination');
    },
    after: async (tx, { id: made }) => {
      const from = Object.entries(origins).map(([cell, source_scene_id]) => ({
        scene_id: made,
        cell,
        source_scene_id,
      }));
      if (from.length > 0) await tx.batchInsert('cell_origins', from, 1000);
    },
  });
}

/** Where the cells of a scene came from that do not come from its first parent. */
export async function originsOf(db: Database, sceneId: string): Promise<Picks> {
  const found = await db('cell_origins').where({ scene_id: sceneId }).select('cell', 'source_scene_id');
  return Object.fromEntries(found.map(({ cell, source_scene_id }) => [cell, source_scene_id]));
}

/**
 * What a recipe makes.
 * @throws Fault `not-found`, `conflict` for a scene in the bin, `refused-input` for one of another kind of desk
 */
export async function runRecipe(db: Database, recipe: Recipe): Promise<{ profile: Profile; combined: CombineResult }> {
  const ids = recipeScenes(recipe);
  const sources = await Promise.all(ids.map((id) => sceneRow(db, id)));
  const binned = sources.find(({ id, binned_at }) => binned_at !== null && id !== recipe.merge?.parent);
  if (binned)
    throw new Fault(
      'conflict',
      `${sceneTitle(binned)} is in the bin.`,
      'Take it out of the bin first, or take from another scene.',
    );
  const profile = await profileOfProduction(db, (await sceneRow(db, recipe.base)).production_id);
  await assertOfKind(db, profile.id, ids, 'picks');
  const states = new Map<string, State>(
    await Promise.all(ids.map(async (id): Promise<[string, State]> => [id, await loadState(db, id)])),
  );
  return { profile, combined: combine(profile, recipe, (id) => states.get(id) ?? {}) };
}
