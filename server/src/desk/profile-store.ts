import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';

import { Fault } from '@old-echo/core/fault/fault';
import { hasAllOf, parseProfile, type Profile } from '@old-echo/core/desk/profile';

import type { Database } from '../database/connect';

/** A profile's JSON as it was stored. @throws Fault `not-found` */
export async function profileSource(db: Database, id: string): Promise<string> {
  const row = await db<{ id: string; source: string }>('profiles').where({ id }).first('source');
  if (!row) throw new Fault('not-found', `There is no desk model called ${id}.`, 'Choose one from the list of desks.');
  return row.source;
}

/** A stored profile, read and expanded. */
export const readStoredProfile = async (db: Database, id: string): Promise<Profile> =>
  parseProfile(JSON.parse(await profileSource(db, id)));

/** Puts the profiles of a folder in the place of those of their names that are stored, where they have all of those and more. */
export async function extendProfiles(db: Database, folder: string): Promise<void> {
  for (const file of (await readdir(folder)).filter((name) => name.endsWith('.json'))) {
    const source: unknown = JSON.parse(await readFile(join(folder, file), 'utf8'));
    const profile = parseProfile(source);
    const stored = await db<{ id: string; source: string }>('profiles').where({ id: profile.id }).first('source');
    if (stored && hasAllOf(profile, parseProfile(JSON.parse(stored.source))))
      await db('profiles')
        .where({ id: profile.id })
        .update({ source: JSON.stringify(source) });
  }
}

export async function insertProfile(db: Database, source: unknown): Promise<void> {
  const profile = parseProfile(source);
  await db('profiles').insert({ id: profile.id, name: profile.name, source: JSON.stringify(source) });
}
