import { readFileSync } from 'node:fs';
import { join } from 'node:path';

import { parseProfile, type Profile } from '@old-echo/core/desk/profile';

/** The JSON of one of the three desks of the demo. */
export const profileJson = (id: string): unknown =>
  JSON.parse(readFileSync(join(__dirname, '..', '..', 'demo', 'profiles', `${id}.json`), 'utf8'));

export const quay = parseProfile(profileJson('quay-48'));
export const boathouse = parseProfile(profileJson('boathouse'));
export const skiff = parseProfile(profileJson('skiff-16'));

export const PROFILES: readonly (readonly [name: string, profile: Profile])[] = [
  ['Quay 48', quay],
  ['Boathouse', boathouse],
  ['Skiff 16', skiff],
];
