import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';

import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';

/** A file that nothing was written into for this long is not arriving any more, in ms. */
const ABANDONED_MS = 60_000;

/** Removes what a server that was killed had only half received, and files to import that it never entered. Call at the start. */
export async function sweepUploads(db: Database, files: FileStore): Promise<void> {
  const entered = new Set(await db('imports').pluck('id'));
  const inbox = (await readdir(files.inboxFolder)).filter((name) => !entered.has(name));
  const left = [
    ...inbox.map((name) => join(files.inboxFolder, name)),
    ...(await readdir(files.arriving)).map((name) => join(files.arriving, name)),
  ];
  for (const file of left) {
    // Another server at the same files may be receiving it, or may just have.
    const seen = await stat(file).catch(() => undefined);
    if (seen && seen.mtimeMs < new Date().getTime() - ABANDONED_MS) await rm(file, { force: true });
  }
}
