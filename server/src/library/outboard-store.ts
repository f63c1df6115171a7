import { createHash } from 'node:crypto';
import { rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

import type { NewOutboard, OutboardEdit, OutboardView } from '@old-echo/core/contracts/outboard';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import { outboardView } from '../scenes/scene-outboard';
import { editConflict } from '../scenes/scene-store';

/** What stands beside the desk of a production, in the order in which it was entered. */
export const outboard = async (db: Database, productionId: string): Promise<OutboardView[]> =>
  (await db('outboard').where({ production_id: productionId }).orderBy('id')).map(outboardView);

export async function insertOutboard(db: Database, productionId: string, device: NewOutboard): Promise<OutboardView[]> {
  await addOutboard(db, productionId, { ...device, photo: null });
  return outboard(db, productionId);
}

/** Enters a device, with its photo where there is one. */
export const addOutboard = (
  tx: Database,
  productionId: string,
  { controls, ...device }: Omit<OutboardView, 'id' | 'revision'>,
): Promise<unknown> =>
  tx('outboard').insert({ id: newId(), production_id: productionId, ...device, controls: toJson(controls) });

/** @throws Fault `conflict` where someone else changed it since */
export async function editOutboard(
  db: Database,
  productionId: string,
  id: string,
  { revision, controls, ...words }: OutboardEdit,
): Promise<OutboardView[]> {
  const changed = await db('outboard')
    .where({ id, production_id: productionId, revision })
    .update({ ...words, controls: toJson(controls), revision: revision + 1 });
  if (changed === 0) throw editConflict(words.name);
  return outboard(db, productionId);
}

/** JPEG, PNG and WebP as they begin. */
const PICTURES: readonly (readonly [type: string, test: (bytes: Buffer) => boolean])[] = [
  ['image/jpeg', (bytes) => bytes.subarray(0, 3).equals(Buffer.from([0xff, 0xd8, 0xff]))],
  ['image/png', (bytes) => bytes.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))],
  ['image/webp', (bytes) => bytes.toString('latin1', 0, 4) === 'RIFF' && bytes.toString('latin1', 8, 12) === 'WEBP'],
];

/** The type of a picture, or undefined for what is none. */
export const pictureType = (bytes: Buffer): string | undefined => PICTURES.find(([, test]) => test(bytes))?.[0];

/** Keeps a picture as a file named by its content. @throws Fault `refused-input` for what is no picture */
export async function storePhoto(files: FileStore, bytes: Buffer): Promise<string> {
  if (pictureType(bytes) === undefined)
    throw new Fault('refused-input', 'Not a JPEG, PNG or WebP picture.', 'Nothing was saved. Choose a photo.');
  const hash = createHash('sha256').update(bytes).digest('hex');
  const arriving = join(files.arriving, newId());
  await writeFile(arriving, bytes);
  await rename(arriving, files.photo(hash)).finally(() => rm(arriving, { force: true }));
  return hash;
}

/** @throws Fault `not-found` */
export async function setPhoto(db: Database, productionId: string, id: string, photo: string): Promise<OutboardView[]> {
  const changed = await db('outboard')
    .where({ id, production_id: productionId })
    .update({ photo, revision: db.raw('revision + 1') });
  if (changed === 0) throw new Fault('not-found', 'This unit no longer exists.', 'Add it first.');
  return outboard(db, productionId);
}
