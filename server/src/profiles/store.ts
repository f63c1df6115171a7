import { Fault } from '@old-echo/core/contracts/fault';
import { readProfile, type Profile } from '@old-echo/core/desk/profile';

import type { Database } from '../database/connect';

/** A profile's JSON as it was stored. @throws Fault `not-found` */
export async function profileSource(db: Database, id: string): Promise<string> {
  const row = await db<{ id: string; source: string }>('profiles').where({ id }).first('source');
  if (!row) throw new Fault('not-found', `There is no profile called ${id}.`, 'Choose one from the list of desks.');
  return row.source;
}

/** A stored profile, read and expanded. */
export const readStoredProfile = async (db: Database, id: string): Promise<Profile> =>
  readProfile(JSON.parse(await profileSource(db, id)));

export async function insertProfile(db: Database, source: unknown): Promise<void> {
  const profile = readProfile(source);
  await db('profiles').insert({ id: profile.id, name: profile.name, source: JSON.stringify(source) });
}
