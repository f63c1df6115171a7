import { readdir, rm, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';

import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';

/** A file that nothing was written into for this long is not arriving any more, in ms: the largest is looked through by then. */
const ABANDONED_MS = 600_000;

/**
 * What a server that was killed had only half received, and files to import that it never entered. The next one starts at once, when
 * nothing can tell yet whether another server at the same files is receiving them: they are looked at until that is sure.
 */
export class LeftUploads {
  private constructor(
    private readonly db: Database,
    private left: readonly string[],
  ) {}

  /** Looks what is there. Call before anything is received. */
  static async find(db: Database, { inboxFolder, arriving }: FileStore): Promise<LeftUploads> {
    const all = async (folder: string) => (await readdir(folder)).map((name) => join(folder, name));
    return new LeftUploads(db, [...(await all(inboxFolder)), ...(await all(arriving))]);
  }

  /** Removes what is abandoned by now. Call again and again. */
  async sweep(): Promise<void> {
    if (this.left.length === 0) return;
    const entered = new Set(await this.db('imports').pluck('id'));
    const unsure: string[] = [];
    for (const file of this.left) {
      // What was entered belongs to its import.
      const seen = entered.has(basename(file)) ? undefined : await stat(file).catch(() => undefined);
      if (!seen) continue;
      if (seen.mtimeMs < new Date().getTime() - ABANDONED_MS) await rm(file, { force: true });
      else unsure.push(file);
    }
    this.left = unsure;
  }
}
