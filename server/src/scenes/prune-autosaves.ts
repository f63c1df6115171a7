import { recipeScenes } from '@old-echo/core/combine/recipe';
import type { Profile } from '@old-echo/core/desk/profile';
import { expiredAutosaves } from '@old-echo/core/scenes/autosave-retention';

import type { Database } from '../database/connect';
import { openRecipes, removeScenes } from './delete-scenes';

/**
 * Thins out what Old Echo has kept by itself in a production. What anything still leans on stays: a milestone, a note or
 * a tag on it, protection, a place at hand, a desk it stands on or swaps to, a scene, version or combination that came from it, and
 * the restore that it is the way back of.
 * @returns how many went
 */
export async function pruneAutosaves(db: Database, profile: Profile, productionId: string, now: Date): Promise<number> {
  const kept = await db('scenes')
    .where({ production_id: productionId, protected: 0, milestone: '', note: '' })
    .whereNot('kind', 'scene')
    .whereNotExists((q) => q.from('scene_tags').whereRaw('scene_id = scenes.id').select(db.raw('1')))
    .whereNotExists((q) => q.from('scenes_at_hand').whereRaw('scene_id = scenes.id').select(db.raw('1')))
    .whereNotExists((q) =>
      q.from('desks').whereRaw('scenes.id IN (desks.current_scene_id, desks.swap_scene_id)').select(db.raw('1')),
    )
    .whereNotExists((q) => q.from('scene_parents').whereRaw('parent_id = scenes.id').select(db.raw('1')))
    .whereNotExists((q) => q.from('versions').whereRaw('from_scene_id = scenes.id').select(db.raw('1')))
    .whereNotExists((q) => q.from('restores').whereRaw('way_back_id = scenes.id').select(db.raw('1')))
    .select('id', 'made_at');
  const combined = new Set((await openRecipes(db)).flatMap(recipeScenes));
  const going = expiredAutosaves(
    kept.filter(({ id }) => !combined.has(id)).map((row) => ({ id: row.id, madeAt: row.made_at })),
    now,
  );
  await removeScenes(db, profile, going);
  return going.length;
}
