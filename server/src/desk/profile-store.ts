import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';

import { LRUCache } from 'lru-cache';

import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import { isManualDesk } from '@old-echo/core/desk/manual';
import { hasAllOf, parseProfile, type Profile } from '@old-echo/core/desk/profile';
import { fittingState } from '@old-echo/core/desk/profile-change';
import { addressesOf, type State } from '@old-echo/core/desk/state';
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

/** What is stored of a model of desk, as far as that has and takes it since somebody changed it. The rest stays stored, and comes back with it. */
export async function fittingToday(db: Database, id: string, state: State): Promise<State> {
  return (await isChanged(db, id)) ? fittingState(await readStoredProfile(db, id), state) : state;
}

/** Whether somebody has changed a model of desk since it came: what is stored of it may be of before. */
export const isChanged = async (db: Database, id: string): Promise<boolean> =>
  (await db('profiles').where({ id }).whereNotNull('changed_at').first('id')) !== undefined;

/** Every model of desk that is here, in alphabetical order. */
export async function profileSummaries(db: Database): Promise<ProfileSummary[]> {
  const ids = await db('profiles').orderBy('name').orderBy('id').pluck('id');
  const profiles = await Promise.all(ids.map((id) => readStoredProfile(db, id)));
  return profiles.map(summaryOf);
}

export const summaryOf = (profile: Profile): ProfileSummary => ({
  id: profile.id,
  name: profile.name,
  use: profile.use,
  manual: isManualDesk(profile),
  strips: profile.strips.length,
  settings: addressesOf(profile).length,
});

/** Puts the profiles of a folder in the place of those of their names that are stored, where they have all of those and nobody changed them. */
export async function extendProfiles(db: Database, folder: string): Promise<void> {
  for (const file of (await readdir(folder)).filter((name) => name.endsWith('.json'))) {
    const source: unknown = JSON.parse(await readFile(join(folder, file), 'utf8'));
    const profile = parseProfile(source);
    const stored = await db('profiles').where({ id: profile.id }).first('source', 'changed_at');
    if (stored && !stored.changed_at && hasAllOf(profile, parseProfile(fromJson(stored.source))))
      await db('profiles')
        .where({ id: profile.id })
        .update({ source: toJson(source) });
  }
}

export async function insertProfile(db: Database, source: unknown): Promise<void> {
  const profile = parseProfile(source);
  await db('profiles').insert({ id: profile.id, name: profile.name, source: toJson(source) });
}
