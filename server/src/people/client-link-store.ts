import { existsSync } from 'node:fs';

import type { ClientLinkView, NewClientLink } from '@old-echo/core/contracts/client-link';
import { Fault } from '@old-echo/core/fault/fault';

import { countNotesByLink } from '../combine/mix-note-store';
import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { found } from '../database/found';
import { newId } from '../database/new-id';
import type { ClientLinkRow, ClientMixRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { productionRow } from '../scenes/production-store';
import { sceneRow } from '../scenes/scene-store';
import { hashSecret } from '../secrets/hash-secret';
import { hashToken, newToken } from '../secrets/token';
import { keepRender, renderView } from '../sound/render-store';

const DAY_MS = 86_400_000;

/** The mixes of links, in their order. */
export const mixesOf = (db: Database, linkIds: readonly string[]): Promise<ClientMixRow[]> =>
  db('client_mixes').whereIn('link_id', linkIds).orderBy('place');

export const choiceOf = (mix: number | null, by: string) => (mix === null ? null : { mix, by });

async function viewsOf(db: Database, rows: readonly ClientLinkRow[]): Promise<ClientLinkView[]> {
  const ids = rows.map(({ id }) => id);
  const mixes = await mixesOf(db, ids);
  const notes = await countNotesByLink(db, ids);
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    note: row.note,
    mixes: mixes
      .filter(({ link_id }) => link_id === row.id)
      .map(({ name, sound, scene_id }) => ({ name, sound, sceneId: scene_id })),
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
    notes: notes.get(row.id) ?? 0,
  }));
}

/** The links of a song or show, the newest first. @throws Fault `not-found` */
export async function clientLinks(db: Database, productionId: string): Promise<ClientLinkView[]> {
  await productionRow(db, productionId);
  return viewsOf(db, await db('client_links').where('production_id', productionId).orderBy('id', 'desc'));
}

/** @throws Fault `not-found` */
export async function linkRow(db: Database, id: string): Promise<ClientLinkRow> {
  const row = await db('client_links').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This link is not here any more.', 'Look at the list again.');
  return row;
}

async function clientLink(db: Database, id: string): Promise<ClientLinkView> {
  const [view] = await viewsOf(db, [await linkRow(db, id)]);
  return found(view);
}

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
  const mixes = await mixesOf(db, [id]);
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
