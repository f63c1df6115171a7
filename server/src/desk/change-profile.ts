import { isDeepStrictEqual } from 'node:util';

import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import { summaryOf } from './profile-store';
import type { ServerContext } from './server-context';
import { whileIdle } from './while-idle';

/** A profile that is to take the place of the one of an id. @throws Fault `refused-input` with the path of the first thing that is wrong */
export function changedProfile(id: string, source: unknown): Profile {
  const profile = parseProfile(source);
  if (profile.id !== id)
    throw new Fault(
      'refused-input',
      `It is called ${profile.id}, and not ${id}.`,
      'Nothing was changed. Leave its id as it is, or add it as a model of its own.',
      'source.id',
    );
  return profile;
}

/** The desks of a model that are in use. */
export const desksOfModel = (db: Database, id: string) => db('desks').where({ profile_id: id }).whereNull('removed_at');

/**
 * Puts another profile in the place of one. What scenes hold beyond it stays stored, and comes back when the model has it again. Its desks
 * are looked at anew.
 * @param change `was` is the profile as it was when somebody began to change it
 * @throws Fault `refused-input`, `not-found`; `conflict` where somebody else has changed it meanwhile; `show-lock` and `desk-busy`
 */
export async function changeProfile(
  { db, desks, lease, live }: ServerContext,
  id: string,
  { was, source }: { readonly was: unknown; readonly source: unknown },
): Promise<ProfileSummary> {
  const profile = changedProfile(id, source);
  const ids = await desksOfModel(db, id).pluck('id');
  await whileIdle(db, ids, lease, async (tx) => {
    const stored = await tx('profiles').where({ id }).forUpdate().first('source');
    if (!stored) throw new Fault('not-found', `There is no desk model called ${id}.`, 'Choose one from the list.');
    if (!isDeepStrictEqual(fromJson(stored.source), was))
      throw new Fault(
        'conflict',
        `${profile.name} was changed by somebody else meanwhile.`,
        'Nothing was changed. Look at it again, and make your changes in what it is now.',
      );
    await tx('profiles')
      .where({ id })
      .update({ name: profile.name, source: toJson(source), changed_at: new Date() });
  });
  for (const desk of ids) await desks.reconnect(db, desk);
  live.modelsChanged();
  return summaryOf(profile);
}
