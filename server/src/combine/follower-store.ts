import type { InferType } from 'yup';

import { nearestCommonAncestor } from '@old-echo/core/combine/common-ancestor';
import { cellOf, mergeStates } from '@old-echo/core/combine/merge-states';
import type { CatchUpResult, catchUpShape, FollowerView } from '@old-echo/core/contracts/follower';
import { diffStates } from '@old-echo/core/desk/diff-states';
import { filled } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { MAX_NAME_LENGTH } from '@old-echo/core/fault/text-shapes';
import { plural } from '@old-echo/core/phrases/format-value';

import type { Database } from '../database/connect';
import { loadState } from '../desk/scene-states';
import { profileOfProduction } from '../scenes/production-store';
import { loadParents, sceneRow } from '../scenes/scene-store';
import { uniqueSceneName } from '../scenes/unique-names';
import { combinations, saveCombination, startCombination } from './combination-store';

/** The versions of a production that follow another and are behind it. */
export async function followers(db: Database, productionId: string): Promise<FollowerView[]> {
  const following = await db('versions as v')
    .join('versions as f', 'f.id', 'v.follows_id')
    .where({ 'v.production_id': productionId })
    .whereNull('v.binned_at')
    .whereNull('f.binned_at')
    .orderBy('v.place')
    .select<{ id: string; follows_id: string }[]>('v.id', 'v.follows_id');
  if (following.length === 0) return [];
  const profile = await profileOfProduction(db, productionId);
  const parentsOf = await loadParents(db, [productionId]);
  const views: FollowerView[] = [];
  for (const { id, follows_id } of following) {
    const [[base], theirs] = [await capturedScenes(db, id), await capturedScenes(db, follows_id)];
    const merge = theirs[0];
    const parent = base && merge ? nearestCommonAncestor(parentsOf, base, merge) : null;
    if (!base || !merge || parent === null || parent === merge) continue;
    const [from, mine, other] = await Promise.all([parent, base, merge].map((scene) => loadState(db, scene)));
    if (!from || !mine || !other) continue;
    const { state, conflicts } = mergeStates(profile, from, mine, filled(other, from));
    views.push({
      versionId: id,
      followsId: follows_id,
      base,
      merge,
      parent,
      behind: theirs.filter((scene) => scene > parent).length,
      settings: diffStates(profile, mine, state).length,
      keeps: new Set(diffStates(profile, from, mine).map(cellOf)).size,
      conflicts: conflicts.length,
    });
  }
  return views;
}

/** The scenes of a version that people captured, the newest first. */
const capturedScenes = (db: Database, versionId: string): Promise<string[]> =>
  db('scenes')
    .where({ version_id: versionId, kind: 'scene' })
    .whereNull('binned_at')
    .orderBy('ordinal', 'desc')
    .pluck('id');

/**
 * Has versions take over what the ones they follow have gained, each in a scene of its own. Where something is at odds, that
 * scene is left in the making.
 * @throws Fault `refused-input` naming a version that is not behind; those before it were done
 */
export async function catchUp(
  db: Database,
  productionId: string,
  { versions, by }: InferType<typeof catchUpShape>,
): Promise<CatchUpResult[]> {
  const taken: CatchUpResult[] = [];
  for (const versionId of versions) {
    const view = (await followers(db, productionId)).find((follower) => follower.versionId === versionId);
    if (!view)
      throw new Fault('refused-input', 'A version has nothing to take over.', 'Nothing was changed in it.', 'versions');
    const begun = (await combinations(db, productionId)).find(
      ({ recipe }) => recipe.base === view.base && recipe.merge?.scene === view.merge,
    );
    const { id, revision } = begun ?? (await startCombination(db, { base: view.base, merge: view.merge, picks: {} }));
    if (view.conflicts > 0) {
      taken.push({ versionId, sceneId: null, combinationId: id });
      continue;
    }
    const { number, name } = await sceneRow(db, view.merge);
    const wanted = `With ${number} ${name}`.slice(0, MAX_NAME_LENGTH - 4);
    const scene = await saveCombination(db, id, {
      name: await uniqueSceneName(db, versionId, wanted),
      note: `Took over ${plural(view.settings, 'setting')}; ${plural(view.keeps, 'section')} of its own stayed.`,
      revision,
      by,
    });
    taken.push({ versionId, sceneId: scene.id, combinationId: null });
  }
  return taken;
}
