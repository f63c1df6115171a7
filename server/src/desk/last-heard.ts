import type { State } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';

/** What was last heard of a desk, so that it can be looked at while it does not answer. */
interface LastHeard {
  readonly state: State;
  readonly at: Date;
}

export async function lastHeard(db: Database, deskId: string): Promise<LastHeard | undefined> {
  const row = await db('heard').where({ desk_id: deskId }).first('state', 'heard_at');
  return row && { state: fromJson(row.state), at: row.heard_at };
}

export const heardAt = async (db: Database, deskId: string): Promise<Date | null> =>
  (await db('heard').where({ desk_id: deskId }).first('heard_at'))?.heard_at ?? null;

export async function noteHeard(db: Database, deskId: string, { state, at }: LastHeard): Promise<void> {
  const row = { state: toJson(state), heard_at: at };
  await db('heard')
    .insert({ desk_id: deskId, ...row })
    .onConflict('desk_id')
    .merge(row);
}
