import { type Recipe, recipeScenes } from '@old-echo/core/combine/recipe';
import { recipeShape } from '@old-echo/core/contracts/combination';
import { sceneTitle } from '@old-echo/core/contracts/scene';
import type { Profile } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { fromJson } from '../database/json-column';
import type { RestoreRow, SceneParentRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { loadState } from '../desk/scene-states';
import { deleteUnusedStrips } from '../desk/strip-states';
import { planFrom, recordChanges } from './insert-scene';
import { sceneRow } from './scene-store';

/** Ids in one statement. */
const BATCH = 500;

/**
 * Removes scenes for good, with all strip states that nothing else uses. Scenes that came from them come from their
 * parents instead, and combinations that began with one of them go too.
 * @throws Fault `desk-busy` while a restore or another combination leans on one of them; then none is removed
 */
export async function removeScenes(db: Database, profile: Profile, ids: readonly string[]): Promise<void> {
  await assertNoneIsRestored(db, ids);
  await assertNoneIsCombined(db, ids, (recipe) => !ids.includes(recipe.base));
  for (let i = 0; i < ids.length; i += BATCH) {
    const batch = ids.slice(i, i + BATCH);
    await inTransaction(db, (tx) => remove(tx, profile, batch));
  }
}

type Leaning = Pick<RestoreRow, 'status' | 'scene_name' | 'scene_number'>;

/** A restore that is at work leans on its scene and on its way back; one that broke off, on its way back until it is taken up. */
async function assertNoneIsRestored(tx: Database, ids: readonly string[]): Promise<void> {
  const leaning = await tx('restores as r')
    .where((any) => {
      void any
        .where((now) =>
          now
            .whereIn('r.status', ['running', 'walk'])
            .where((of) => of.whereIn('r.scene_id', ids).orWhereIn('r.way_back_id', ids)),
        )
        .orWhere((left) =>
          left
            .where('r.status', 'interrupted')
            .whereIn('r.way_back_id', ids)
            .whereRaw('r.started_at = (SELECT MAX(n.started_at) FROM restores n WHERE n.desk_id = r.desk_id)'),
        );
    })
    // A restore that is about to begin waits.
    .forShare()
    .first<Leaning | undefined>('r.status', 'r.scene_name', 'r.scene_number');
  if (!leaning) return;
  const title = sceneTitle({ name: leaning.scene_name, number: leaning.scene_number });
  throw leaning.status !== 'interrupted'
    ? new Fault(
        'desk-busy',
        `${title} is being restored.`,
        'Nothing was removed. Wait until the restore has ended, then try again.',
      )
    : new Fault(
        'desk-busy',
        `The restore of ${title} was interrupted, and can still be rolled back.`,
        'Nothing was removed. Finish that restore, or roll it back, first.',
      );
}

/** The recipes of all combinations that are not saved yet. */
export const openRecipes = async (db: Database): Promise<Recipe[]> =>
  (await db('combinations').pluck('recipe')).map((recipe) => parseShape(recipeShape, fromJson(recipe)));

/** A combination leans on every scene of its recipe until it is saved or discarded. @param counts which of them count */
async function assertNoneIsCombined(
  db: Database,
  ids: readonly string[],
  counts: (recipe: Recipe) => boolean,
): Promise<void> {
  const going = new Set(ids);
  for (const recipe of (await openRecipes(db)).filter(counts)) {
    const used = recipeScenes(recipe).find((id) => going.has(id));
    if (used === undefined) continue;
    const [scene, base] = [await sceneRow(db, used), await sceneRow(db, recipe.base)];
    const { name } = found(await db('productions').where({ id: base.production_id }).first('name'));
    throw new Fault(
      'desk-busy',
      `${sceneTitle(scene)} is part of a combination that is not saved yet.`,
      `Nothing was removed. Save or discard the combination of ${sceneTitle(base)} in ${name} first.`,
    );
  }
}

async function remove(tx: Database, profile: Profile, ids: readonly string[]): Promise<void> {
  await assertNoneIsRestored(tx, ids);
  const orphans = await reparentChildren(tx, ids);
  const states = await tx('scene_strips')
    .join('scenes', 'scenes.seq', 'scene_strips.scene_seq')
    .join('strip_states', 'strip_states.id', 'scene_strips.strip_state_id')
    .whereIn('scenes.id', ids)
    .distinct<{ id: number; base_id: number | null }[]>('strip_states.id', 'base_id');
  await tx('scenes').whereIn('id', ids).delete();
  // Deltas first, then the states that only those were based on.
  await deleteUnusedStrips(
    tx,
    states.map((state) => state.id),
  );
  await deleteUnusedStrips(tx, [...new Set(states.flatMap((state) => state.base_id ?? []))]);
  for (const id of orphans) await recountChanges(tx, profile, id);
}

type Link = Pick<SceneParentRow, 'scene_id' | 'parent_id'>;

/** Gives the children of deleted scenes their grandparents as parents; returns the children. */
async function reparentChildren(tx: Database, ids: readonly string[]): Promise<string[]> {
  const links = await tx('scene_parents')
    .whereIn('parent_id', ids)
    .orWhereIn('scene_id', ids)
    .orderBy('place')
    .select('scene_id', 'parent_id');
  const going = new Set(ids);
  const children = [...new Set(links.map((link) => link.scene_id))].filter((id) => !going.has(id));
  if (children.length === 0) return [];
  const all = await tx('scene_parents').whereIn('scene_id', children).orderBy('place');
  const parentsOf = (id: string, of: readonly Link[]) => of.filter((l) => l.scene_id === id).map((l) => l.parent_id);
  const staying = (id: string): string[] => (going.has(id) ? parentsOf(id, links).flatMap(staying) : [id]);
  for (const child of children) {
    const parents = [...new Set(parentsOf(child, all).flatMap(staying))];
    await tx('scene_parents').where({ scene_id: child }).delete();
    if (parents.length > 0)
      await tx('scene_parents').insert(parents.map((parent_id, place) => ({ scene_id: child, parent_id, place })));
  }
  return children;
}

/** Says anew how far a scene is from its first parent. */
async function recountChanges(tx: Database, profile: Profile, id: string): Promise<void> {
  const scene = found(await tx('scenes').where({ id }).first('seq'));
  const parent = await tx('scene_parents').where({ scene_id: id }).orderBy('place').first('parent_id');
  const { changed } = await planFrom(tx, profile, parent?.parent_id, await loadState(tx, id));
  await recordChanges(tx, scene.seq, changed);
}

/**
 * Removes for good what is in the bin of a production: one scene of it, or all.
 * @throws Fault `not-found`, `desk-busy` while a restore or a combination leans on one of them; then none is removed
 */
export async function emptyBin(db: Database, profile: Profile, productionId: string, id?: string): Promise<number> {
  const ids = await db('scenes')
    .where({ production_id: productionId, ...(id === undefined ? {} : { id }) })
    .whereNotNull('binned_at')
    .pluck('id');
  if (id !== undefined && ids.length === 0)
    throw new Fault(
      'not-found',
      'This scene is not in the bin.',
      'Look at the bin again; someone may have emptied it.',
    );
  // Whoever empties a bin keeps the song, and the combinations in it.
  await assertNoneIsCombined(db, ids, () => true);
  await removeScenes(db, profile, ids);
  return ids.length;
}
