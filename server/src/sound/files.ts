import { mkdirSync } from 'node:fs';
import { join } from 'node:path';

/** Where sound is kept: stems and mixes by their content, and what is just arriving. */
export interface SoundFiles {
  readonly stem: (hash: string) => string;
  readonly mix: (id: string) => string;
  readonly arriving: string;
}

export function soundFiles(folder: string): SoundFiles {
  const [stems, mixes, arriving] = ['stems', 'mixes', 'arriving'].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ];
  for (const made of [stems, mixes, arriving]) mkdirSync(made, { recursive: true });
  return { stem: (hash) => join(stems, `${hash}.wav`), mix: (id) => join(mixes, `${id}.wav`), arriving };
}
