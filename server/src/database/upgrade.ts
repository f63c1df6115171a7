import type { Knex } from 'knex';

import { Fault } from '@old-echo/core/fault/fault';

import { copyDatabase } from './copy-database';
import { migrations } from './migrations';

/** How long another server may be at the same, in seconds. */
const LOCK_WAIT_S = 600;
/** The table that is made in a copy once all of it is there. */
const COMPLETE = 'copy_complete';

/**
 * Brings a database up to date, or leaves it as it was. Before the first step it is copied; where the steps fail, or end with the
 * process, the copy takes its place again: at once, or when this is called the next time. Only one server does this at a time, and
 * what holds the others off ends with its connection.
 * @param one a connection alone, without a database of its own
 * @param open a connection to the database, which exists
 * @throws Fault `conflict` for data of a newer program, which is left as it is, and where another server takes too long
 */
export async function upgrade(one: Knex, database: string, open: () => Knex): Promise<void> {
  const copy = `${database}_before`;
  const [[lock]] = (await one.raw('SELECT GET_LOCK(?, ?) AS got', [copy, LOCK_WAIT_S])) as [[{ got: number | null }]];
  if (lock.got !== 1)
    throw new Fault(
      'conflict',
      'Another Old Echo is bringing the same data up to date.',
      'Nothing was changed. Wait until it is ready, and start again.',
    );
  try {
    if (await hasTable(one, copy, COMPLETE)) await putBack(one, copy, database);
    const db = open();
    try {
      const known = await migrations.getMigrations([]);
      const done = (await hasTable(one, database, 'knex_migrations'))
        ? await db('knex_migrations').select<{ name: string }[]>('name')
        : [];
      if (done.some(({ name }) => !known.includes(name)))
        throw new Fault(
          'conflict',
          'This data was written by a newer Old Echo.',
          'Nothing was touched. Start it with the newer Old Echo, or put a backup of before in its place.',
        );
      if (done.length === known.length) return;
      await copyDatabase(one, database, copy);
      await one.raw('CREATE TABLE ?? (at INT)', [COMPLETE]);
      // Of a program that was ended while it held it.
      await db.migrate.forceFreeMigrationsLock({ migrationSource: migrations });
      await db.migrate.latest({ migrationSource: migrations });
    } catch (error) {
      if (await hasTable(one, copy, COMPLETE)) await putBack(one, copy, database);
      throw error;
    } finally {
      await db.destroy();
    }
    await one.raw('DROP DATABASE ??', [copy]);
  } finally {
    await one.raw('DO RELEASE_LOCK(?)', [copy]);
  }
}

async function putBack(one: Knex, copy: string, database: string): Promise<void> {
  await copyDatabase(one, copy, database);
  await one.raw('DROP TABLE ??', [COMPLETE]);
  await one.raw('DROP DATABASE ??', [copy]);
}

async function hasTable(one: Knex, database: string, table: string): Promise<boolean> {
  const named = { TABLE_SCHEMA: database, TABLE_NAME: table };
  return (await one('information_schema.TABLES').where(named).pluck('TABLE_NAME')).length > 0;
}
