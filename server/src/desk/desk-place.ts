import { type DeskPlace, type NewDesk, NOWHERE } from '@old-echo/core/contracts/desk';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import { inTransaction } from '../database/transaction';
import { addDesk, deskRow } from './desk-store';
import { profileSource } from './profile-store';
import { whileIdle } from './while-idle';

/** Enters a new desk behind the others, and returns its id. @throws Fault `not-found` for its model, `conflict` as {@link placeDesk} */
export async function addDeskAt(db: Database, desk: NewDesk): Promise<string> {
  const { profileId, ...rest } = desk;
  await profileSource(db, profileId);
  const id = newId();
  await inTransaction(db, async (tx) => {
    await assertPlaceIsFree(tx, desk);
    await addDesk(tx, { id, profile_id: profileId, ...rest });
  });
  return id;
}

/**
 * Says what a desk is called and where it is. Nobody restores to it meanwhile.
 * @throws Fault `conflict` where another desk has that name or is there, `show-lock`, `desk-busy`
 */
export const placeDesk = (db: Database, id: string, place: DeskPlace, lease: number): Promise<void> =>
  whileIdle(db, [id], lease, async (tx) => {
    await assertPlaceIsFree(tx, place, id);
    await tx('desks').where({ id }).update(place);
  });

/** Takes a desk out of use; what was made on it stays. @throws Fault `show-lock`, `desk-busy` */
export const removeDesk = (db: Database, id: string, lease: number): Promise<void> =>
  whileIdle(db, [id], lease, (tx) => tx('desks').where({ id }).update({ removed_at: new Date() }));

/** Takes it into use again. @throws Fault `conflict` where another desk has its name or is where it was */
export const bringBackDesk = (db: Database, id: string, lease: number): Promise<void> =>
  whileIdle(db, [id], lease, async (tx) => {
    await assertPlaceIsFree(tx, await deskRow(tx, id), id);
    await tx('desks').where({ id }).update({ removed_at: null });
  });

/** @throws Fault `conflict` where another desk in use has the name, or is at the address */
async function assertPlaceIsFree(tx: Database, { name, host, port }: DeskPlace, own = ''): Promise<void> {
  const others = await tx('desks')
    .whereNull('removed_at')
    .whereNot({ id: own })
    .forUpdate()
    .select('name', 'host', 'port');
  const called = others.find((desk) => desk.name.toLowerCase() === name.toLowerCase());
  if (called)
    throw new Fault(
      'conflict',
      `There is a desk called ${called.name}.`,
      'Nothing was changed. Give it another name.',
      'name',
    );
  const there = others.find(
    (desk) => desk.host.toLowerCase() === host.toLowerCase() && desk.port === port && port !== NOWHERE.port,
  );
  if (there)
    throw new Fault(
      'conflict',
      `${there.name} is at ${host}:${port}.`,
      'Nothing was changed. Two desks cannot be at one address: change that of the other first.',
      'port',
    );
}
