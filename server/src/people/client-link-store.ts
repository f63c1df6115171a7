import { existsSync } from 'node:fs';

import type {
  ClientChoice,
  ClientLinkView,
  ClientPage,
  NewClientLink,
  NewClientNote,
} from '@old-echo/core/contracts/client-link';
import { Fault } from '@old-echo/core/fault/fault';

import { addMixNote, notesByLink } from '../combine/mix-note-store';
import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { newId } from '../database/new-id';
import type { ClientLinkRow, ClientMixRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { productionRow } from '../scenes/production-store';
import { sceneRow } from '../scenes/scene-store';
import { hashSecret, isSecret } from '../secrets/hash-secret';
import { hashToken, newToken } from '../secrets/token';
import { keepRender, renderView } from '../sound/render-store';

const DAY_MS = 86_400_000;
/** What can be written by one link: more than anybody answers. */
const MOST_NOTES = 200;

const mixesOf = (db: Database, linkId: string): Promise<ClientMixRow[]> =>
  db('client_mixes').where('link_id', linkId).orderBy('place');

const choiceOf = (mix: number | null, by: string) => (mix === null ? null : { mix, by });

async function viewOf(db: Database, row: ClientLinkRow): Promise<ClientLinkView> {
  const mixes = await mixesOf(db, row.id);
  return {
    id: row.id,
    name: row.name,
    note: row.note,
    mixes: mixes.map(({ name, sound, scene_id }) => ({ name, sound, sceneId: scene_id })),
    asksWord: row.word_hash !== null,
    mayDownload: row.may_download === 1,
    madeAt: row.made_at.toISOString(),
    by: row.made_by,
    endsAt: row.ends_at.toISOString(),
    withdrawnAt: row.withdrawn_at?.toISOString() ?? null,
    opened: row.opened,
    openedAt: row.opened_at?.toISOString() ?? null,
    favourite: choiceOf(row.favourite, row.favourite_by),
    approved: choiceOf(row.approved, row.approved_by),
    notes: (await notesByLink(db, row.id)).length,
  };
}

/** The links of a song or show, the newest first. @throws Fault `not-found` */
export async function clientLinks(db: Database, productionId: string): Promise<ClientLinkView[]> {
  await productionRow(db, productionId);
  const rows = await db('client_links').where('production_id', productionId).orderBy('id', 'desc');
  return Promise.all(rows.map((row) => viewOf(db, row)));
}

/** @throws Fault `not-found` */
async function linkRow(db: Database, id: string): Promise<ClientLinkRow> {
  const row = await db('client_links').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This link is not here any more.', 'Look at the list again.');
  return row;
}

const clientLink = async (db: Database, id: string): Promise<ClientLinkView> => viewOf(db, await linkRow(db, id));

/** A link, and the token by which it is opened. */
export interface TokenOfLink {
  readonly link: ClientLinkView;
  readonly token: string;
}

/**
 * Makes a link to mixes that were rendered, and keeps those as long as it is good.
 * @throws Fault `not-found` for what is not there; `conflict` for a mix that is not rendered
 */
export async function makeClientLink(
  db: Database,
  files: FileStore,
  productionId: string,
  { name, note, mixes, days, word, mayDownload, by }: NewClientLink,
  now: Date,
): Promise<TokenOfLink> {
  await productionRow(db, productionId);
  for (const { sound, sceneId } of mixes) {
    await assertRendered(db, files, sound);
    if (sceneId !== null && (await sceneRow(db, sceneId)).production_id !== productionId)
      throw new Fault('refused-input', 'A mix is of another song or show.', 'Nothing was made.', 'mixes');
  }
  const [id, token, endsAt] = [newId(), newToken(), new Date(now.getTime() + days * DAY_MS)];
  const row = {
    ...{ id, production_id: productionId, token_hash: hashToken(token), name, note, may_download: mayDownload },
    ...{ word_hash: word === undefined ? null : await hashSecret(word), made_at: now, made_by: by, ends_at: endsAt },
  };
  await inTransaction(db, async (tx) => {
    await tx('client_links').insert(row);
    await tx('client_mixes').insert(
      mixes.map(({ sound, name: called, sceneId }, place) => ({
        ...{ link_id: id, place, name: called, sound, scene_id: sceneId },
      })),
    );
    for (const { sound } of mixes) await keepRender(tx, sound, endsAt);
  });
  return { link: await clientLink(db, id), token };
}

async function assertRendered(db: Database, files: FileStore, sound: string): Promise<void> {
  const { status } = await renderView(db, sound);
  if (status !== 'done' || !existsSync(files.mix(sound)))
    throw new Fault('conflict', 'A mix is not rendered.', 'Nothing was made. Listen to it first.', 'mixes');
}

/** Another token for a link, which is good from now as long as it was at first; mixes that are gone cannot come back. */
export async function renewClientLink(db: Database, files: FileStore, id: string, now: Date): Promise<TokenOfLink> {
  const { made_at, ends_at } = await linkRow(db, id);
  const token = newToken();
  const endsAt = new Date(now.getTime() + ends_at.getTime() - made_at.getTime());
  const mixes = await mixesOf(db, id);
  for (const { sound } of mixes) await assertRendered(db, files, sound);
  await inTransaction(db, async (tx) => {
    await tx('client_visits').where('link_id', id).delete();
    await tx('client_links')
      .where({ id })
      .update({ token_hash: hashToken(token), made_at: now, ends_at: endsAt, withdrawn_at: null });
    for (const { sound } of mixes) await keepRender(tx, sound, endsAt);
  });
  return { link: await clientLink(db, id), token };
}

/** @throws Fault `not-found` */
export async function withdrawClientLink(db: Database, id: string, now: Date): Promise<ClientLinkView> {
  await linkRow(db, id);
  await db('client_links').where({ id }).whereNull('withdrawn_at').update({ withdrawn_at: now });
  return clientLink(db, id);
}

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
    (await mixesOf(db, id)).map(async ({ name, sound }) => {
      const { measured } = await renderView(db, sound);
      return { name, loudness: measured?.loudness.integrated ?? null, overview: measured?.overview ?? [] };
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
  const found = (await mixesOf(db, id)).find((mix) => String(mix.place) === place);
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
