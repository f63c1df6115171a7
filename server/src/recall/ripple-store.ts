import { Fault } from '@old-echo/core/fault/fault';
import type { RipplePreview, RippleRequest, RippleView } from '@old-echo/core/contracts/ripple';
import { acceptOffsets, offsetBy } from '@old-echo/core/desk/batch-edit';
import { readAddress } from '@old-echo/core/desk/address';
import type { Profile } from '@old-echo/core/desk/profile';
import { validateSettings, valueAt, withSettings, type SettingsByAddress, type State } from '@old-echo/core/desk/state';
import { diffStates } from '@old-echo/core/desk/diff-states';
import { newId } from '../database/new-id';

import { sceneTitle } from '@old-echo/core/contracts/scene';

import type { Database } from '../database/connect';
import { inTransaction } from '../database/transaction';
import { assertNotShowLocked } from '../desk/show-lock';
import { assertBelongsToDesk } from '../desk/same-profile';
import { deskRow } from '../desk/desk-store';
import { readStoredProfile } from '../desk/profile-store';
import { protectedFault } from '../scenes/scene-bin';
import { writeEdited } from '../scenes/insert-scene';
import { editConflict, sceneView } from '../scenes/scene-store';
import { loadStrips } from '../desk/strip-states';
import { swapIn } from '../scenes/replace-scene';

/**
 * Writes values into scenes, all of them or none. Each scene as it was goes to the bin; one with the values, under its name,
 * number and words, takes its place.
 * @throws Fault `show-lock`, `protected`, `conflict` where one was changed or binned meanwhile, `refused-input`
 */
export async function applyRipple(db: Database, deskId: string, request: RippleRequest): Promise<RippleView> {
  const desk = await deskRow(db, deskId);
  assertNotShowLocked(desk);
  const profile = await readStoredProfile(db, desk.profile_id);
  const edit = editOf(profile, request);
  await assertBelongsToDesk(db, desk, idsOf(request), 'scenes');
  const id = newId();
  await inTransaction(db, async (tx) => {
    await tx('ripples').insert({ id, desk_id: deskId, made_by: request.by, made_at: new Date() });
    for (const { id: old, revision } of request.scenes) {
      const scene = await sceneView(tx, old);
      if (scene.protected) throw protectedFault(scene);
      const binned = await tx('scenes')
        .where({ id: old, revision, kind: 'scene' })
        .whereNull('binned_at')
        .update({ binned_at: new Date(), revision: revision + 1 });
      if (binned === 0) throw editConflict(scene.name);
      const { versionId, name, note, milestone, tags } = scene;
      const words = { versionId, name, note, milestone, tags, kind: 'scene' as const };
      const made = newId();
      const meta = { ...words, parents: [old], madeAt: new Date(scene.madeAt) };
      await writeEdited(tx, profile, made, meta, scene, edit);
      await swapIn(tx, old, made);
      await tx('ripple_scenes').insert({ ripple_id: id, old_id: old, new_id: made });
    }
  });
  return rippleView(db, id);
}

const held = (strips: State, settings: SettingsByAddress): SettingsByAddress =>
  Object.fromEntries(Object.entries(settings).filter(([address]) => valueAt(strips, address) !== undefined));

/** The strips that a request touches, and what it makes of a scene's. @throws Fault `refused-input` */
function editOf(profile: Profile, request: RippleRequest) {
  const settings = validateSettings(profile, request.settings);
  const offsets = acceptOffsets(profile, request.offsets);
  const addresses = [...Object.keys(settings), ...Object.keys(offsets)];
  return {
    strips: [...new Set(addresses.flatMap((address) => readAddress(address)?.strip ?? []))],
    // What a scene lacks, because only a part of it came to this desk, is not put into it.
    edited: (strips: State): State =>
      withSettings(strips, { ...held(strips, settings), ...offsetBy(profile, strips, offsets) }),
  };
}

/** What {@link applyRipple} would change, scene by scene. @throws Fault `not-found`, `refused-input` */
export async function previewRipple(db: Database, deskId: string, request: RippleRequest): Promise<RipplePreview[]> {
  const desk = await deskRow(db, deskId);
  const profile = await readStoredProfile(db, desk.profile_id);
  const { strips, edited } = editOf(profile, request);
  await assertBelongsToDesk(db, desk, idsOf(request), 'scenes');
  const previews: RipplePreview[] = [];
  for (const { id } of request.scenes) {
    const before = await loadStrips(db, id, strips);
    previews.push({ id, changes: diffStates(profile, before, edited(before)) });
  }
  return previews;
}

/**
 * Puts every scene of a ripple back as it was, all of them or none.
 * @throws Fault `show-lock`, `not-found`, `conflict` where it was undone already, or a scene was changed or binned since
 */
export async function undoRipple(db: Database, id: string): Promise<RippleView> {
  await inTransaction(db, async (tx) => {
    const { desk_id } = await rippleRow(tx, id);
    assertNotShowLocked(await deskRow(tx, desk_id));
    const undone = await tx('ripples').where({ id }).whereNull('undone_at').update({ undone_at: new Date() });
    if (undone === 0) throw new Fault('conflict', 'This was undone already.', 'There is nothing left to undo.');
    for (const { old_id, new_id } of await scenesOf(tx, id)) {
      const { name, number } = await sceneView(tx, new_id);
      // Whatever was written about the new one since would be lost.
      const binned = await tx('scenes')
        .where({ id: new_id, revision: 1, protected: false })
        .whereNull('binned_at')
        .update({ binned_at: new Date(), revision: 2 });
      if (binned === 0)
        throw new Fault(
          'conflict',
          `${sceneTitle({ number, name })} was changed since.`,
          'Nothing was undone. The scenes as they were are in the bin, one by one.',
        );
      await tx('scenes')
        .where({ id: old_id })
        .update({ binned_at: null, revision: tx.raw('revision + 1') });
      await swapIn(tx, new_id, old_id);
    }
  });
  return rippleView(db, id);
}

interface RippleRow {
  readonly desk_id: string;
  readonly undone_at: Date | null;
}

async function rippleRow(db: Database, id: string): Promise<RippleRow> {
  const row = (await db('ripples').where({ id }).first('desk_id', 'undone_at')) as RippleRow | undefined;
  if (!row) throw new Fault('not-found', 'There is no such change of many scenes.', 'Go back to the mixes.');
  return row;
}

const scenesOf = (db: Database, id: string) =>
  db('ripple_scenes').where({ ripple_id: id }).orderBy('old_id') as unknown as Promise<
    { old_id: string; new_id: string }[]
  >;

async function rippleView(db: Database, id: string): Promise<RippleView> {
  const [{ undone_at }, scenes] = await Promise.all([rippleRow(db, id), scenesOf(db, id)]);
  return { id, scenes: scenes.map(({ old_id, new_id }) => ({ old: old_id, id: new_id })), undone: undone_at !== null };
}

const idsOf = ({ scenes }: RippleRequest): string[] => scenes.map(({ id }) => id);

/** The productions whose scenes a ripple touched. */
export const productionsOf = (db: Database, id: string): Promise<string[]> =>
  db('ripple_scenes')
    .join('scenes', 'scenes.id', 'ripple_scenes.old_id')
    .where({ ripple_id: id })
    .distinct('production_id')
    .pluck('production_id') as unknown as Promise<string[]>;
