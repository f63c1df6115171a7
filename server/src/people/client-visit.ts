import type { ClientChoice, ClientPage, NewClientNote } from '@old-echo/core/contracts/client-link';
import { Fault } from '@old-echo/core/fault/fault';

import { addMixNote, notesByLink } from '../combine/mix-note-store';
import type { Database } from '../database/connect';
import type { ClientLinkRow, ClientMixRow } from '../database/tables';
import { productionRow } from '../scenes/production-store';
import { sceneRow } from '../scenes/scene-store';
import { isSecret } from '../secrets/hash-secret';
import { hashToken, newToken } from '../secrets/token';
import { renderView } from '../sound/render-store';
import { choiceOf, linkRow, mixesOf } from './client-link-store';

/* What whoever has a link may see and do. */

/** What can be written by one link: more than anybody answers. */
const MOST_NOTES = 200;

/** The link that a token opens. @throws Fault `not-found` where there is none, or none any more */
export async function openedBy(db: Database, token: string, now: Date): Promise<ClientLinkRow> {
  const row = await db('client_links')
    .where('token_hash', hashToken(token))
    .whereNull('withdrawn_at')
    .where('ends_at', '>', now)
    .first();
  if (!row) throw new Fault('not-found', 'This link leads nowhere any more.', 'Ask whoever sent it for another one.');
  return row;
}

/** Whether somebody may hear a link: it asks for no word, or they show that they have said it. */
export async function hasSaidWord(db: Database, { id, word_hash }: ClientLinkRow, shown: string): Promise<boolean> {
  if (word_hash === null) return true;
  const visit = await db('client_visits')
    .where({ token_hash: hashToken(shown), link_id: id })
    .first();
  return visit !== undefined;
}

/** Takes the word of a link. @returns what shows from then on that it was said @throws Fault `wrong-secret` */
export async function sayWord(db: Database, { id, word_hash }: ClientLinkRow, word: string): Promise<string> {
  if (!(await isSecret(word_hash, word)))
    throw new Fault('wrong-secret', 'This is not the word.', 'Try again, or ask whoever sent the link.', 'word');
  const token = newToken();
  await db('client_visits').insert({ token_hash: hashToken(token), link_id: id });
  return token;
}

/** Counts that a link was opened. */
export const countOpened = (db: Database, { id }: ClientLinkRow, now: Date): Promise<number> =>
  db('client_links').where({ id }).increment('opened', 1).update({ opened_at: now });

/** What a link shows. */
export async function clientPage(db: Database, { id }: ClientLinkRow): Promise<ClientPage> {
  const row = await linkRow(db, id);
  const { name: production } = await productionRow(db, row.production_id);
  const mixes = await Promise.all(
    (await mixesOf(db, [id])).map(async ({ name, sound }) => {
      const { measured } = await renderView(db, sound);
      return {
        name,
        loudness: measured?.loudness.integrated ?? null,
        seconds: measured?.seconds ?? 0,
        overview: measured?.overview ?? [],
      };
    }),
  );
  return {
    production,
    name: row.name,
    note: row.note,
    by: row.made_by,
    endsAt: row.ends_at.toISOString(),
    mayDownload: row.may_download === 1,
    mixes,
    favourite: choiceOf(row.favourite, row.favourite_by),
    approved: choiceOf(row.approved, row.approved_by),
    notes: await notesByLink(db, id),
  };
}

/** The mix at a place of a link. @throws Fault `not-found` */
export async function mixAt(db: Database, { id }: ClientLinkRow, place: string): Promise<ClientMixRow> {
  const found = (await mixesOf(db, [id])).find((mix) => String(mix.place) === place);
  if (!found) throw new Fault('not-found', 'This link has no such mix.', 'Open it once more.');
  return found;
}

/** Writes a mix note to the version that a mix is of. @throws Fault `not-found`, `conflict` once there are very many */
export async function addClientNote(
  db: Database,
  link: ClientLinkRow,
  { mix, songSeconds, text, name }: NewClientNote,
): Promise<void> {
  const { scene_id } = await mixAt(db, link, String(mix));
  if ((await notesByLink(db, link.id)).length >= MOST_NOTES)
    throw new Fault(
      'conflict',
      `There are ${MOST_NOTES} notes by this link already.`,
      'Nothing was written. Ask for another one.',
    );
  const versionId = await versionOf(db, link, scene_id);
  const note = { versionId, text, songSeconds, requestedBy: name };
  await addMixNote(db, note, { client_link_id: link.id, client_mix: mix });
}

/** The version of a mix, or where its scene is gone the first of the song or show. @throws Fault `not-found` */
async function versionOf(db: Database, link: ClientLinkRow, sceneId: string | null): Promise<string> {
  if (sceneId !== null) return (await sceneRow(db, sceneId)).version_id;
  const first = await db('versions')
    .where('production_id', link.production_id)
    .whereNull('binned_at')
    .orderBy('place')
    .first();
  if (!first) throw new Fault('not-found', 'The song or show has no version any more.', 'Nothing was written.');
  return first.id;
}

/** Keeps what a client chose. @throws Fault `not-found` for a mix that the link does not have */
export async function choose(
  db: Database,
  link: ClientLinkRow,
  { favourite, approved, name }: ClientChoice,
): Promise<void> {
  for (const place of [favourite, approved]) if (place != null) await mixAt(db, link, String(place));
  const columns = {
    ...(favourite === undefined ? {} : { favourite, favourite_by: name }),
    ...(approved === undefined ? {} : { approved, approved_by: name }),
  };
  if (Object.keys(columns).length > 0) await db('client_links').where('id', link.id).update(columns);
}
