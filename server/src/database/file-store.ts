import { mkdirSync } from 'node:fs';
import { join } from 'node:path';

/** Where what is too large for the database is kept: stems, mixes and photos by their content, and what is just arriving. */
export interface FileStore {
  readonly stem: (hash: string) => string;
  readonly mix: (id: string) => string;
  readonly photo: (hash: string) => string;
  /** Files that were brought in, by their id. */
  readonly inbox: (id: string) => string;
  readonly inboxFolder: string;
  readonly arriving: string;
}

export function soundFiles(folder: string): FileStore {
  const [stems = '', mixes = '', photos = '', inbox = '', arriving = ''] = [
    'stems',
    'mixes',
    'photos',
    'inbox',
    'arriving',
  ].map((name) => join(folder, name));
  for (const made of [stems, mixes, photos, inbox, arriving]) mkdirSync(made, { recursive: true });
  return {
    stem: (hash) => join(stems, `${hash}.wav`),
    mix: (id) => join(mixes, `${id}.wav`),
    photo: (hash) => join(photos, hash),
    inbox: (id) => join(inbox, id),
    inboxFolder: inbox,
    arriving,
  };
}
