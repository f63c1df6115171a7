import type { State } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';

/** What was last heard of a desk, so that it can be looked at while it does not answer. */
interface LastHeard {
  readonly state: State;
  readonly at: Date;
}

export async function lastHeard(db: Database, deskId: string): Promise<LastHeard | undefined> {
  const row = (await db('heard').where({ desk_id: deskId }).first('state', 'heard_at')) as
    { state: string; heard_at: Date } | undefined;
  return row && { state: JSON.parse(row.state) as State, at: row.heard_at };
}

export const heardAt = async (db: Database, deskId: string): Promise<Date | null> =>
  ((await db('heard').where({ desk_id: deskId }).first('heard_at')) as { heard_at: Date } | undefined)?.heard_at ??
  null;

export async function noteHeard(db: Database, deskId: string, { state, at }: LastHeard): Promise<void> {
  const row = { state: JSON.stringify(state), heard_at: at };
  await db('heard')
    .insert({ desk_id: deskId, ...row })
    .onConflict('desk_id')
    .merge(row);
}
