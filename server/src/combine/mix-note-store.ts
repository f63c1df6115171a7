import { Fault } from '@old-echo/core/fault/fault';
import type { NewWish, WishEdit, MixNoteStatus, WishView } from '@old-echo/core/contracts/mix-note';
import { displayName } from '@old-echo/core/desk/state';
import { newId } from '../database/new-id';

import type { Database } from '../database/connect';
import { profileOfProduction } from '../scenes/production-store';
import { editConflict } from '../scenes/scene-store';
import { loadState } from '../desk/strip-states';
import { versionRow } from '../scenes/version-store';

interface Row {
  readonly id: string;
  readonly version_id: string;
  readonly text: string;
  readonly at: string | null;
  readonly strip: string | null;
  readonly who: string;
  readonly state: MixNoteStatus;
  readonly scene_id: string | null;
  readonly number: number | null;
  readonly name: string | null;
  readonly before_id: string | null;
  readonly revision: number;
}

const rows = (db: Database) =>
  db('wishes')
    .leftJoin('scenes', 'scenes.id', 'wishes.scene_id')
    .leftJoin('scene_parents', (on) => {
      on.on('scene_parents.scene_id', 'wishes.scene_id').andOnVal('scene_parents.place', 0);
    })
    .orderBy('wishes.id')
    .select('wishes.*', 'scenes.number', 'scenes.name', 'scene_parents.parent_id as before_id');

const viewOf = (row: Row): WishView => ({
  id: row.id,
  versionId: row.version_id,
  text: row.text,
  at: row.at === null ? null : Number(row.at),
  strip: row.strip,
  who: row.who,
  state: row.state,
  sceneId: row.scene_id,
  scene: row.number === null ? null : `${row.number} ${row.name ?? ''}`,
  beforeId: row.before_id,
  revision: row.revision,
});

/** What was wished for a version, the oldest first. @throws Fault `not-found` */
export async function wishes(db: Database, versionId: string): Promise<WishView[]> {
  await versionRow(db, versionId);
  return ((await rows(db).where({ 'wishes.version_id': versionId })) as Row[]).map(viewOf);
}

/** {@link wishes} with their strips by name, as its newest scene has them. */
export async function mixNotesWithStripNames(db: Database, versionId: string): Promise<WishView[]> {
  const { production_id } = await versionRow(db, versionId);
  const profile = await profileOfProduction(db, production_id);
  const newest = (await db('scenes').where({ version_id: versionId }).orderBy('ordinal', 'desc').first('id')) as
    { id: string } | undefined;
  const state = newest ? await loadState(db, newest.id) : {};
  return (await wishes(db, versionId)).map((wish) => ({
    ...wish,
    strip: wish.strip && displayName(profile, state, wish.strip),
  }));
}

/** @throws Fault `not-found` */
async function mixNote(db: Database, id: string): Promise<WishView> {
  const row = (await rows(db).where({ 'wishes.id': id }).first()) as Row | undefined;
  if (!row) throw new Fault('not-found', 'This wish is gone.', 'Someone took it off the list.');
  return viewOf(row);
}

const columnsOf = ({ text, at, strip, who, state, sceneId }: Partial<NewWish>) => ({
  ...(text === undefined ? {} : { text }),
  ...(at === undefined ? {} : { at }),
  ...(strip === undefined ? {} : { strip }),
  ...(who === undefined ? {} : { who }),
  ...(state === undefined ? {} : { state }),
  ...(sceneId === undefined ? {} : { scene_id: sceneId }),
});

/** @throws Fault `not-found` where its version is gone */
export async function newWish(db: Database, { versionId, ...words }: NewWish): Promise<WishView> {
  await versionRow(db, versionId);
  const id = newId();
  await db('wishes').insert({ id, version_id: versionId, made_at: new Date(), ...columnsOf(words) });
  return mixNote(db, id);
}

/** @throws Fault `not-found`, `conflict` where someone else changed it since */
export async function editWish(db: Database, id: string, { revision, ...words }: WishEdit): Promise<WishView> {
  const changed = await db('wishes')
    .where({ id, revision })
    .update({ ...columnsOf(words as Partial<NewWish>), revision: revision + 1 });
  if (changed === 0) throw editConflict((await mixNote(db, id)).text);
  return mixNote(db, id);
}
