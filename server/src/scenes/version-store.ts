import type { NewVersion, VersionEdit } from '@old-echo/core/contracts/production';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import { nextPlace } from '../database/next-place';
import type { VersionRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { insertCopy } from './insert-scene';
import { protectedFault } from './scene-bin';
import { editConflict, sceneRow } from './scene-store';
import { withUniqueName } from './unique-names';

/** @throws Fault `not-found` */
export async function versionRow(db: Database, id: string): Promise<VersionRow> {
  const row = await db('versions').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This version no longer exists.', 'Choose another version and try again.');
  return row;
}

type AddedVersion = Pick<VersionRow, 'id' | 'production_id' | 'name'> &
  Partial<Pick<VersionRow, 'note' | 'status' | 'from_scene_id' | 'follows_id'>>;

/** Enters a version behind the others of its production. */
export async function addVersion(tx: Database, version: AddedVersion): Promise<void> {
  const place = await nextPlace(tx, 'versions', { production_id: version.production_id });
  await tx('versions').insert({ note: '', ...version, place });
}

/** Says of a version that is entered which scene it began with, and which version it follows. */
export const linkVersion = (
  tx: Database,
  id: string,
  { fromSceneId, followsId }: Pick<NewVersion, 'fromSceneId' | 'followsId'>,
): Promise<unknown> => tx('versions').where({ id }).update({ from_scene_id: fromSceneId, follows_id: followsId });

const PRODUCTION = 'This song or show';

/**
 * Adds a version at the end of a production. Made from a scene, it begins with a copy of it.
 * @throws Fault `not-found`, `conflict` where its name is taken, `refused-input` for a scene of another kind of desk
 */
export async function insertVersion(db: Database, productionId: string, version: NewVersion): Promise<string> {
  const [id, copy] = [newId(), newId()];
  const { name, note, fromSceneId, followsId } = version;
  await assertCanFollow(db, productionId, followsId);
  await withUniqueName(
    name,
    () =>
      inTransaction(db, async (tx) => {
        const links = { from_scene_id: fromSceneId, follows_id: followsId };
        await addVersion(tx, { id, production_id: productionId, name, note, ...links });
        if (fromSceneId === null) return;
        const scene = await sceneRow(tx, fromSceneId);
        await insertCopy(tx, copy, fromSceneId, { versionId: id, name: scene.kind === 'scene' ? scene.name : name });
      }),
    PRODUCTION,
  );
  return id;
}

/** @throws Fault `not-found`, `conflict` where someone else changed it since, or its new name is taken */
export async function editVersion(
  db: Database,
  id: string,
  { revision, followsId, ...words }: VersionEdit,
): Promise<void> {
  if (followsId !== undefined) await assertCanFollow(db, (await versionRow(db, id)).production_id, followsId, id);
  const edit = { ...words, ...(followsId === undefined ? {} : { follows_id: followsId }) };
  const changed = await withUniqueName(
    edit.name ?? '',
    () =>
      db('versions')
        .where({ id, revision })
        .update({ ...edit, revision: revision + 1 }),
    PRODUCTION,
  );
  if (changed === 0) throw editConflict((await versionRow(db, id)).name);
}

/** Refuses to follow a version of another production, or one that follows back. @throws Fault `refused-input` */
async function assertCanFollow(
  db: Database,
  productionId: string,
  followsId: string | null,
  id?: string,
): Promise<void> {
  for (let at = followsId; at !== null;) {
    const version: { production_id: string; name: string; follows_id: string | null } = await versionRow(db, at);
    if (at === id || version.production_id !== productionId)
      throw new Fault(
        'refused-input',
        at === id
          ? 'A version cannot follow itself, directly or through others.'
          : `${version.name} is in another song or show.`,
        'Choose another version to follow.',
        'followsId',
      );
    at = version.follows_id;
  }
}

/**
 * Puts a version with its scenes into the bin.
 * @throws Fault `not-found`, `protected` while a scene of it is, `conflict` where it is the only one
 */
export async function binVersion(db: Database, id: string): Promise<void> {
  const version = await versionRow(db, id);
  await inTransaction(db, async (tx) => {
    const open = await tx('versions')
      .where({ production_id: version.production_id })
      .whereNull('binned_at')
      .forUpdate()
      .pluck('id');
    if (open.length === 1 && open[0] === id)
      throw new Fault(
        'conflict',
        `${version.name} is the only version.`,
        'Create another first, or move the song or show to the bin.',
      );
    const safe = await tx('scenes')
      .where({ version_id: id, protected: 1 })
      .whereNull('binned_at')
      .first('number', 'name');
    if (safe) throw protectedFault(safe);
    await tx('versions')
      .where({ id })
      .update({ binned_at: new Date(), revision: tx.raw('revision + 1') });
  });
}

/** Brings a version back with its scenes. @throws Fault `not-found`, `conflict` where its name is taken by now */
export async function unbinVersion(db: Database, id: string): Promise<void> {
  const { name } = await versionRow(db, id);
  await withUniqueName(
    name,
    () =>
      db('versions')
        .where({ id })
        .update({ binned_at: null, revision: db.raw('revision + 1') }),
    PRODUCTION,
  );
}
