import { type Replacement, sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import { inTransaction } from '../database/transaction';
import { baselineRevision, setBaseline, setCaptured, undamagedBaseline } from '../desk/baseline';
import { readWhole } from '../desk/desk-lease';
import type { DeskMirror } from '../desk/desk-mirror';
import { deskRow } from '../desk/desk-store';
import { assertNotShowLocked } from '../desk/show-lock';
import { armSwap } from './arm-swap';
import { insertScene } from './insert-scene';
import { assertProductionOnDesk } from './production-store';
import { binIfUnchanged, protectedFault, takeOutOfBin } from './scene-bin';
import { editConflict, sceneView } from './scene-store';
import { swapIn } from './swap-in';

/**
 * Puts what stands on the desk into the place of a scene: its number, name, words, scope and place at hand go to a new scene, which
 * comes from the old one; the old one goes to the bin. The last one on a desk can be undone: {@link undoReplacement}.
 * @throws Fault `link-lost`, `not-found`, `protected`, `show-lock`, `conflict` where someone else changed it since
 */
export async function replaceScene(
  db: Database,
  session: DeskMirror,
  { sceneId, revision, by, ...given }: Replacement,
  lease: number,
): Promise<SceneView> {
  const old = await sceneView(db, sceneId);
  if (old.protected) throw protectedFault(old);
  if (old.kind !== 'scene')
    throw new Fault(
      'refused-input',
      `${old.name} was autosaved.`,
      'Capture the desk as a new scene instead.',
      'sceneId',
    );
  await assertProductionOnDesk(db, session.deskId, old.productionId);
  const desk = await deskRow(db, session.deskId);
  assertNotShowLocked(desk);
  const state = await readWhole(db, session, lease);
  const { name, versionId } = old;
  const { note = old.note, milestone = old.milestone, tags = old.tags } = given;
  const words = { versionId, name, note, milestone, tags, kind: 'scene' as const };
  return insertScene(
    db,
    session.profile,
    { ...words, parents: [old.id], state, madeAt: new Date(), by },
    {
      before: async (tx) => {
        if (!(await binIfUnchanged(tx, old.id, revision))) throw editConflict(old.name);
      },
      after: async (tx, { id }) => {
        const before = await undamagedBaseline(tx, session.deskId);
        await swapIn(tx, old.id, id);
        await setCaptured(tx, session.deskId, { id, number: old.number, name }, state);
        // It stands there now, so the other side is what stood there before.
        if (desk.swap_scene_id === old.id) await armSwap(tx, desk, { id, productionId: old.productionId });
        const row = {
          desk_id: session.deskId,
          scene_id: id,
          replaced_id: old.id,
          baseline_before: before ? toJson(before) : null,
          baseline_revision: await baselineRevision(tx, session.deskId),
        };
        await tx('scene_replacements').insert(row).onConflict('desk_id').merge();
      },
    },
  );
}

/**
 * Puts the scene back that was last replaced from a desk, under its number; what was written over it goes to the bin. Drift is
 * counted from what it was counted from before, unless something was captured or restored since.
 * @throws Fault `not-found` where nothing is left to undo, `show-lock`, `conflict` where one of the two scenes was changed since
 */
export async function undoReplacement(db: Database, deskId: string): Promise<SceneView> {
  const id = await inTransaction(db, async (tx) => {
    assertNotShowLocked(await deskRow(tx, deskId));
    const row = await tx('scene_replacements').where({ desk_id: deskId }).forUpdate().first();
    if (!row) throw new Fault('not-found', 'This save was already undone.', 'There is nothing left to undo.');
    const { scene_id, replaced_id, baseline_before, baseline_revision } = row;
    const [made, old] = [await sceneView(tx, scene_id), await sceneView(tx, replaced_id)];
    // Whatever was written about either since would be lost.
    if (old.binnedAt === null || !(await binIfUnchanged(tx, scene_id, 1)))
      throw new Fault(
        'conflict',
        `${sceneTitle(made)} was changed since.`,
        'Nothing was undone. Look for the scene as it was in the bin.',
      );
    const isUnchanged = (await baselineRevision(tx, deskId)) === baseline_revision;
    await takeOutOfBin(tx, replaced_id);
    await swapIn(tx, scene_id, replaced_id);
    if (isUnchanged && baseline_before) await setBaseline(tx, deskId, fromJson(baseline_before));
    await tx('scene_replacements').where({ desk_id: deskId }).delete();
    return replaced_id;
  });
  return sceneView(db, id);
}
