import type { ClientNote } from '@old-echo/core/contracts/client-link';
import type { MixNoteEdit, MixNoteView, NewMixNote } from '@old-echo/core/contracts/mix-note';
import { displayName } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import type { MixNoteRow, SceneParentRow, SceneRow } from '../database/tables';
import { loadState } from '../desk/scene-states';
import { profileOfProduction } from '../scenes/production-store';
import { editConflict } from '../scenes/scene-store';
import { versionRow } from '../scenes/version-store';

/** A mix note with the scene that fulfils it and the one before that, where there is one. */
type Row = MixNoteRow & {
  readonly number: SceneRow['number'];
  readonly name: SceneRow['name'] | null;
  readonly before_id: SceneParentRow['parent_id'] | null;
};

const rows = (db: Database) =>
  db('mix_notes')
    .leftJoin('scenes', 'scenes.id', 'mix_notes.scene_id')
    .leftJoin('scene_parents', (on) => {
      on.on('scene_parents.scene_id', 'mix_notes.scene_id').andOnVal('scene_parents.place', 0);
    })
    .orderBy('mix_notes.id')
    .select<Row[]>('mix_notes.*', 'scenes.number', 'scenes.name', 'scene_parents.parent_id as before_id');

const viewOf = (row: Row): MixNoteView => ({
  id: row.id,
  versionId: row.version_id,
  text: row.text,
  songSeconds: row.song_seconds === null ? null : Number(row.song_seconds),
  strip: row.strip,
  requestedBy: row.requested_by,
  status: row.status,
  sceneId: row.scene_id,
  scene: row.number === null ? null : `${row.number} ${row.name ?? ''}`,
  beforeId: row.before_id,
  revision: row.revision,
});

/** The mix notes of a version, the oldest first. @throws Fault `not-found` */
export async function mixNotes(db: Database, versionId: string): Promise<MixNoteView[]> {
  await versionRow(db, versionId);
  return (await rows(db).where('mix_notes.version_id', versionId)).map(viewOf);
}

/** {@link mixNotes} with their strips by name, as its newest scene has them. */
export async function mixNotesWithStripNames(db: Database, versionId: string): Promise<MixNoteView[]> {
  const { production_id } = await versionRow(db, versionId);
  const profile = await profileOfProduction(db, production_id);
  const newest = await db('scenes').where({ version_id: versionId }).orderBy('ordinal', 'desc').first('id');
  const state = newest ? await loadState(db, newest.id) : {};
  return (await mixNotes(db, versionId)).map((mixNote) => ({
    ...mixNote,
    strip: mixNote.strip && displayName(profile, state, mixNote.strip),
  }));
}

/** @throws Fault `not-found` */
async function mixNote(db: Database, id: string): Promise<MixNoteView> {
  const row = await rows(db).where('mix_notes.id', id).first();
  if (!row) throw new Fault('not-found', 'This mix note no longer exists.', 'Someone removed it from the list.');
  return viewOf(row);
}

/** What of a mix note is given, as its columns. */
const mixNoteColumns = ({ text, songSeconds, strip, requestedBy, status, sceneId }: Partial<NewMixNote>) => ({
  ...(text === undefined ? {} : { text }),
  ...(songSeconds === undefined ? {} : { song_seconds: songSeconds }),
  ...(strip === undefined ? {} : { strip }),
  ...(requestedBy === undefined ? {} : { requested_by: requestedBy }),
  ...(status === undefined ? {} : { status }),
  ...(sceneId === undefined ? {} : { scene_id: sceneId }),
});

/** What was written by a link, the oldest first. */
export async function notesByLink(db: Database, linkId: string): Promise<ClientNote[]> {
  const written = await db('mix_notes').where('client_link_id', linkId).orderBy('id');
  return written.map(({ id, client_mix, song_seconds, text, requested_by, status }) => ({
    ...{ id, mix: client_mix ?? 0, text, by: requested_by, status },
    songSeconds: song_seconds === null ? null : Number(song_seconds),
  }));
}

/** How many notes were written by each of some links; those without any are not named. */
export async function countNotesByLink(db: Database, linkIds: readonly string[]): Promise<Map<string, number>> {
  const rows = await db('mix_notes')
    .whereIn('client_link_id', linkIds)
    .groupBy('client_link_id')
    .select<{ link: string; notes: number }[]>({ link: 'client_link_id' }, db.raw('COUNT(*) AS notes'));
  return new Map(rows.map(({ link, notes }) => [link, notes]));
}

/**
 * @param from the link that it was written by
 * @throws Fault `not-found` where its version is gone
 */
export async function addMixNote(
  db: Database,
  { versionId, ...words }: NewMixNote,
  from: Partial<Pick<MixNoteRow, 'client_link_id' | 'client_mix'>> = {},
): Promise<MixNoteView> {
  await versionRow(db, versionId);
  const id = newId();
  await db('mix_notes').insert({ id, version_id: versionId, made_at: new Date(), ...mixNoteColumns(words), ...from });
  return mixNote(db, id);
}

/** @throws Fault `not-found`, `conflict` where someone else changed it since */
export async function editMixNote(db: Database, id: string, { revision, ...words }: MixNoteEdit): Promise<MixNoteView> {
  const changed = await db('mix_notes')
    .where({ id, revision })
    .update({ ...mixNoteColumns(words), revision: revision + 1 });
  if (changed === 0) throw editConflict((await mixNote(db, id)).text);
  return mixNote(db, id);
}
