import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';

import { LRUCache } from 'lru-cache';

import { hasAllOf, parseProfile, type Profile } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import type { ProfileRow } from '../database/tables';

/** A profile's JSON as it was stored. @throws Fault `not-found` */
export async function profileSource(db: Database, id: string): Promise<ProfileRow['source']> {
  const row = await db('profiles').where({ id }).first('source');
  if (!row) throw new Fault('not-found', `There is no desk model called ${id}.`, 'Choose one from the list of desks.');
  return row.source;
}

/** What is stored, by its text: a desk of a hundred strips takes a while to expand, and is asked for in every capture. */
const parsed = new LRUCache<ProfileRow['source'], Profile>({ max: 32 });

/** A stored profile, read and expanded. */
export async function readStoredProfile(db: Database, id: string): Promise<Profile> {
  const source = await profileSource(db, id);
  const profile = parsed.get(source) ?? parseProfile(fromJson(source));
  parsed.set(source, profile);
  return profile;
}

/** Puts the profiles of a folder in the place of those of their names that are stored, where they have all of those and more. */
export async function extendProfiles(db: Database, folder: string): Promise<void> {
  for (const file of (await readdir(folder)).filter((name) => name.endsWith('.json'))) {
    const source: unknown = JSON.parse(await readFile(join(folder, file), 'utf8'));
    const profile = parseProfile(source);
    const stored = await db('profiles').where({ id: profile.id }).first('source');
    if (stored && hasAllOf(profile, parseProfile(fromJson(stored.source))))
      await db('profiles')
        .where({ id: profile.id })
        .update({ source: toJson(source) });
  }
}

export async function insertProfile(db: Database, source: unknown): Promise<void> {
  const profile = parseProfile(source);
  await db('profiles').insert({ id: profile.id, name: profile.name, source: toJson(source) });
}
