import type { PersonEdit, PersonView, ProductionRole, WhoIsLetIn } from '@old-echo/core/contracts/person';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import type { DeviceRow, PersonRow, ProductionRoleRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { deviceView } from './device-store';

const roleRows = (db: Database, ids: readonly string[]) =>
  db('production_roles').whereIn('person_id', ids).orderBy('production_id');

const roleView = ({ production_id, role }: ProductionRoleRow): ProductionRole => ({
  productionId: production_id,
  role,
});

/** What a person may do in some songs and shows. */
export const productionRoles = async (db: Database, personId: string): Promise<ProductionRole[]> =>
  (await roleRows(db, [personId])).map(roleView);

async function viewsOf(db: Database, rows: readonly PersonRow[]): Promise<PersonView[]> {
  const ids = rows.map(({ id }) => id);
  const devices: DeviceRow[] = await db('devices')
    .whereIn('person_id', ids)
    .whereNull('shut_out_at')
    .orderBy('id', 'desc');
  const roles = await roleRows(db, ids);
  return rows.map(({ id, name, role, password_hash }) => ({
    id,
    name,
    role,
    hasPassword: password_hash !== null,
    productions: roles.filter(({ person_id }) => person_id === id).map(roleView),
    devices: devices.filter(({ person_id }) => person_id === id).map(deviceView),
  }));
}

/** Everybody who was let in, by name. */
export const people = async (db: Database): Promise<PersonView[]> => viewsOf(db, await db('people').orderBy('name'));

/** @throws Fault `not-found` */
export async function personRow(db: Database, id: string): Promise<PersonRow> {
  const row = await db('people').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This person is not here any more.', 'Look at the list again.');
  return row;
}

/** @throws Fault `not-found` */
async function personView(db: Database, id: string): Promise<PersonView> {
  const [view] = await viewsOf(db, [await personRow(db, id)]);
  if (!view) throw new Error('a person without a view');
  return view;
}

/** The id of whom a code is for; somebody new is added. @throws Fault `not-found`, `conflict` where another one has that name */
export async function personFor(
  db: Database,
  { personId, name = '', role = 'viewer' }: WhoIsLetIn,
  now: Date,
): Promise<string> {
  if (personId !== undefined) return (await personRow(db, personId)).id;
  const id = newId();
  await db('people').insert({ id, name, role, password_hash: null, made_at: now });
  return id;
}

/** @throws Fault `not-found`, also for a song or show; `conflict` where another one has that name */
export async function editPerson(
  db: Database,
  id: string,
  { name, role, productions }: PersonEdit,
): Promise<PersonView> {
  await inTransaction(db, async (tx) => {
    await personRow(tx, id);
    if (name !== undefined || role !== undefined)
      await tx('people')
        .where({ id })
        .update({ ...(name === undefined ? {} : { name }), ...(role === undefined ? {} : { role }) });
    if (!productions) return;
    await tx('production_roles').where('person_id', id).delete();
    if (productions.length > 0)
      await tx('production_roles').insert(
        productions.map(({ productionId, role: there }) => ({
          person_id: id,
          production_id: productionId,
          role: there,
        })),
      );
  });
  return personView(db, id);
}

/** @throws Fault `not-found` */
export async function setPasswordHash(db: Database, id: string, hashed: string | null): Promise<PersonView> {
  await personRow(db, id);
  await db('people').where({ id }).update({ password_hash: hashed });
  return personView(db, id);
}

/** Forgets a person with all of their devices; returns the ids of those. @throws Fault `not-found` */
export async function removePerson(db: Database, id: string): Promise<string[]> {
  await personRow(db, id);
  const devices: string[] = await db('devices').where('person_id', id).pluck('id');
  await db('people').where({ id }).delete();
  return devices;
}
