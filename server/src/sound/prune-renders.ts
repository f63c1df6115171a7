import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';

import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { deleteRenders, rendersThatMayGo } from './render-store';

/** Mixes that nobody asked for in this time go, in ms; so do resampled stems. */
const RETENTION_MS = 7 * 24 * 3_600_000;
/** What was asked for in this time stays whatever it takes: somebody may be listening to it. In ms. */
const IN_USE_MS = 3_600_000;

/**
 * Removes mixes that nobody asked for in a week and resampled stems that are as old; of the others those that were asked for
 * longest ago, until they take no more than `limit` bytes.
 */
export async function pruneRenders(db: Database, files: FileStore, limit: number, now: Date): Promise<void> {
  const before = (ms: number) => new Date(now.getTime() - ms);
  await remove(db, files, await rendersThatMayGo(db, before(RETENTION_MS), now));
  const sizes = await sizesIn(files.mixesFolder);
  let taken = [...sizes.values()].reduce((sum, { size }) => sum + size, 0);
  const gone: string[] = [];
  for (const id of await rendersThatMayGo(db, before(IN_USE_MS), now)) {
    if (taken <= limit) break;
    taken -= sizes.get(files.mix(id))?.size ?? 0;
    gone.push(id);
  }
  await remove(db, files, gone);
  for (const [file, { mtimeMs }] of await sizesIn(files.resampledFolder))
    if (mtimeMs < before(RETENTION_MS).getTime()) await rm(file, { force: true });
}

async function remove(db: Database, files: FileStore, ids: readonly string[]): Promise<void> {
  await deleteRenders(db, ids);
  for (const id of ids) await rm(files.mix(id), { force: true });
}

/** The files of a folder, with what they take and when they were written. */
async function sizesIn(folder: string): Promise<ReadonlyMap<string, { size: number; mtimeMs: number }>> {
  const found = new Map<string, { size: number; mtimeMs: number }>();
  for (const name of await readdir(folder)) {
    const file = join(folder, name);
    const seen = await stat(file).catch(() => undefined);
    if (seen) found.set(file, seen);
  }
  return found;
}
