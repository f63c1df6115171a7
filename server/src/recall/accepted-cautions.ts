import { type Point, pointsTogether } from '@old-echo/core/recall/caution';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';

/** Two scenes of a desk of which one follows the other. */
interface Transition {
  readonly deskId: string;
  readonly from: string;
  readonly to: string;
}

const rowOf = ({ deskId, from, to }: Transition) => ({ desk_id: deskId, from_id: from, to_id: to });

/** What was looked at and accepted whenever one scene followed the other. */
export async function acceptedIn(db: Database, transition: Transition): Promise<readonly Point[]> {
  const row = await db('accepted').where(rowOf(transition)).first('points');
  return row ? fromJson(row.points) : [];
}

/** Remembers what was looked at and accepted, over what was before. */
export async function accept(db: Database, transition: Transition, points: readonly Point[]): Promise<void> {
  if (points.length === 0) return;
  const all = toJson(pointsTogether(await acceptedIn(db, transition), points));
  await db('accepted')
    .insert({ ...rowOf(transition), points: all })
    .onConflict(['desk_id', 'from_id', 'to_id'])
    .merge(['points']);
}

/** Forgets it, so that all of it is asked again. */
export const forgetAccepted = (db: Database, transition: Transition): Promise<number> =>
  db('accepted').where(rowOf(transition)).delete();
