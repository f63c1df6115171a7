import { isDeepStrictEqual } from 'node:util';

import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import { hasAllOf, parseProfile, type Profile } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import { inTransaction } from '../database/transaction';
import { insertProfile, summaryOf } from './profile-store';
import type { ServerContext } from './server-context';
import { whileIdle } from './while-idle';

/**
 * Adds a model of desk. One that is here with all of that already stays as it is; where only the way of speaking to it is another, its
 * desks are spoken to in that way from now on.
 * @throws Fault `refused-input` with the path of the first thing that is wrong, `conflict` where another model has its id, `show-lock`
 *   and `desk-busy` where one of its desks would have to be spoken to in another way
 */
export async function addProfile({ db, desks, lease }: ServerContext, source: unknown): Promise<ProfileSummary> {
  const profile = parseProfile(source);
  const here = await insertUnlessHere(db, profile, source);
  if (!here) return summaryOf(profile);
  if (!hasAllOf(here, profile))
    throw new Fault(
      'conflict',
      `${here.name} is here as ${profile.id}, with other settings or ranges.`,
      'Nothing was changed. Change the model that is here, or give the profile another id in its file.',
      'source.id',
    );
  if (!hasAllOf(profile, here) || isDeepStrictEqual(here.link, profile.link)) return summaryOf(here);
  const ids = await db('desks').where({ profile_id: profile.id }).whereNull('removed_at').pluck('id');
  await whileIdle(db, ids, lease, (tx) =>
    tx('profiles')
      .where({ id: profile.id })
      .update({ source: toJson(source), changed_at: new Date() }),
  );
  for (const id of ids) await desks.reconnect(db, id);
  return summaryOf(profile);
}

/** The model that is here under its id; undefined where it is new, and was entered. */
const insertUnlessHere = (db: Database, { id }: Profile, source: unknown): Promise<Profile | undefined> =>
  inTransaction(db, async (tx) => {
    const stored = await tx('profiles').where({ id }).forUpdate().first('source');
    if (stored) return parseProfile(fromJson(stored.source));
    await insertProfile(tx, source);
    return undefined;
  });
