import { readFileSync } from 'node:fs';
import { join } from 'node:path';

import { parseProfile, type Profile } from '@old-echo/core/desk/profile';

/** The JSON of one of the desks of the demo. */
export const profileJson = (id: string): unknown =>
  JSON.parse(readFileSync(join(__dirname, '..', '..', 'demo', 'profiles', `${id}.json`), 'utf8'));

export const quay = parseProfile(profileJson('quay-48'));
export const boathouse = parseProfile(profileJson('boathouse'));
export const skiff = parseProfile(profileJson('skiff-16'));
/** A desk that no wire leads to. */
export const netloft = parseProfile(profileJson('netloft-24'));

export const PROFILES: readonly (readonly [name: string, profile: Profile])[] = [
  ['Quay 48', quay],
  ['Boathouse', boathouse],
  ['Skiff 16', skiff],
];

/** The JSON of a desk that speaks a language of its own, with the map to it. */
export const weirSource: unknown = JSON.parse(
  readFileSync(join(__dirname, '..', '..', 'demo', 'foreign', 'weir-16.json'), 'utf8'),
);

interface Source {
  readonly families: readonly { readonly id: string }[];
}

/** The JSON of a wired desk with two units beside it that are turned by hand. */
export const hybridSource: unknown = {
  ...(profileJson('skiff-16') as Source),
  id: 'skiff-and-rack',
  families: [
    ...(profileJson('skiff-16') as Source).families,
    ...(profileJson('netloft-24') as Source).families
      .filter(({ id }) => id === 'rack')
      .map((rack) => ({ ...rack, count: 2, names: ['Left compressor', 'Right compressor'] })),
  ],
};
