import { existsSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

import { connect, type Database } from '../../src/database/connect';
import { type FileStore, soundFiles } from '../../src/database/file-store';
import { newId } from '../../src/database/new-id';
import { LeftUploads } from '../../src/files/left-uploads';
import { Rig } from '../server-rig';
import { download, upload } from './file-steps';

let rig: Rig;
let db: Database;
let files: FileStore;
beforeAll(async () => {
  rig = await Rig.open();
  db = await connect({
    database: rig.database,
    databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
    databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
  });
  files = soundFiles(rig.files);
});
afterAll(async () => {
  await db.destroy();
  await rig.close();
});

/** A file to which something was written last so many minutes ago. */
function writtenBefore(file: string, minutes: number): string {
  if (!existsSync(file)) writeFileSync(file, 'half of it');
  const then = new Date(new Date().getTime() - minutes * 60_000);
  utimesSync(file, then, then);
  return file;
}
const arriving = (minutes: number) => writtenBefore(join(files.arriving, newId()), minutes);

test('what is still being received when the next server starts is removed later, once nobody writes to it any more', async () => {
  const [old, fresh] = [arriving(11), arriving(1)];
  const inbox = writtenBefore(files.inbox(newId()), 1);
  const left = await LeftUploads.find(db, files);
  await left.sweep();
  expect([old, fresh, inbox].map(existsSync)).toEqual([false, true, true]);
  writtenBefore(fresh, 11);
  writtenBefore(inbox, 11);
  await left.sweep();
  expect([fresh, inbox].map(existsSync)).toEqual([false, false]);
});

test('what arrives after the start is left alone, however long it is silent; so is a file that was entered', async () => {
  const left = await LeftUploads.find(db, files);
  const slow = arriving(60);
  await left.sweep();
  expect(existsSync(slow)).toBe(true);

  const { body } = await upload(rig, await download(rig, '/exports/presets'));
  const entered = writtenBefore(files.inbox(body.id), 60);
  const again = await LeftUploads.find(db, files);
  await again.sweep();
  expect([slow, entered].map(existsSync)).toEqual([false, true]);
});
