import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';

import { parseWavHeader } from '@old-echo/core/signal/wav-header';

import type { FileStore } from '../database/file-store';
import { newId } from '../database/new-id';
import { pictureType } from '../library/outboard-store';
import { invalidFile } from './document';
import type { OpenArchive } from './open-file';

export const isWav = async (path: string): Promise<boolean> => {
  const { size } = await stat(path);
  const stream = createReadStream(path, { end: 65_535 });
  parseWavHeader(await buffer(stream), size);
  return true;
};

export const isPicture = async (path: string): Promise<boolean> => pictureType(await readFile(path)) !== undefined;

/** Takes a file out of an archive, if it is what its name says. */
export async function importMedia(
  archive: OpenArchive,
  entry: string,
  to: string,
  hash: string,
  files: FileStore,
  is: (path: string) => Promise<boolean>,
): Promise<void> {
  if (existsSync(to)) return;
  const arriving = join(files.arriving, newId());
  try {
    await pipeline(await archive.read(entry), createWriteStream(arriving));
    const digest = createHash('sha256');
    await pipeline(createReadStream(arriving), digest);
    if (digest.digest('hex') !== hash) throw invalidFile(`${entry} is not what its name says.`, entry);
    if (!(await is(arriving))) throw invalidFile(`${entry} is not a file of its kind.`, entry);
    await rename(arriving, to);
  } finally {
    await rm(arriving, { force: true });
  }
}
