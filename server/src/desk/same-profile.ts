import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';

/**
 * Refuses scenes that were not made on a desk: a state of another desk comes here only by being carried over or copied into
 * one of its productions, whatever kind of desk it is.
 * @throws Fault `refused-input` naming the first of these scenes that is gone or was made on another desk
 */
export async function assertBelongsToDesk(
  db: Database,
  desk: { readonly id: string; readonly name: string },
  ids: readonly string[],
  field: string,
): Promise<void> {
  await assertSameProfile(db, { desk_id: desk.id }, ids, field, [
    `A chosen scene is gone, or was not made on ${desk.name}.`,
    `Nothing was changed. Choose scenes of ${desk.name}, or carry the scene over to it first.`,
  ]);
}

/** @throws Fault `refused-input` naming the first of these scenes that is gone or was made on another kind of desk */
export const assertOfKind = (db: Database, profileId: string, ids: readonly string[], field: string): Promise<void> =>
  assertSameProfile(db, { profile_id: profileId }, ids, field, [
    'A chosen scene is gone, or from a different desk model.',
    'Nothing was changed. Choose scenes made on this desk model.',
  ]);

async function assertSameProfile(
  db: Database,
  on: { readonly desk_id: string } | { readonly profile_id: string },
  ids: readonly string[],
  field: string,
  [message, advice]: readonly [string, string],
): Promise<void> {
  const fitting = await db('scenes')
    .join('productions', 'productions.id', 'scenes.production_id')
    .join('desks', 'desks.id', 'productions.desk_id')
    .whereIn('scenes.id', ids)
    .where(on)
    .pluck<string[]>('scenes.id');
  const stranger = ids.findIndex((id) => !fitting.includes(id));
  if (stranger >= 0)
    throw new Fault('refused-input', message, advice, ids.length === 1 ? field : `${field}[${stranger}]`);
}
