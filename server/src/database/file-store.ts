import { mkdirSync } from 'node:fs';
import { join } from 'node:path';

/** Where what is too large for the database is kept: stems, mixes and photos by their content, and what is just arriving. */
export interface FileStore {
  readonly stem: (hash: string) => string;
  /** A stem at another rate in Hz. */
  readonly resampled: (hash: string, rate: number) => string;
  readonly resampledFolder: string;
  readonly mix: (id: string) => string;
  readonly mixesFolder: string;
  readonly photo: (hash: string) => string;
  /** Files that were brought in, by their id. */
  readonly inbox: (id: string) => string;
  readonly inboxFolder: string;
  readonly arriving: string;
}

export function soundFiles(folder: string): FileStore {
  const [stems = '', resampled = '', mixes = '', photos = '', inbox = '', arriving = ''] = [
    'stems',
    'resampled',
    'mixes',
    'photos',
    'inbox',
    'arriving',
  ].map((name) => join(folder, name));
  for (const made of [stems, resampled, mixes, photos, inbox, arriving]) mkdirSync(made, { recursive: true });
  return {
    stem: (hash) => join(stems, `${hash}.wav`),
    resampled: (hash, rate) => join(resampled, `${hash}-${rate}.wav`),
    resampledFolder: resampled,
    mix: (id) => join(mixes, `${id}.wav`),
    mixesFolder: mixes,
    photo: (hash) => join(photos, hash),
    inbox: (id) => join(inbox, id),
    inboxFolder: inbox,
    arriving,
  };
}
