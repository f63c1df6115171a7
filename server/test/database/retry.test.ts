import type { Knex } from 'knex';

import { connect, type Database } from '../../src/database/connect';
import { beside, ownDatabase } from '../own-database';

// Which of two is broken off: InnoDB takes the one that has written less.
// Source: MariaDB documentation, "InnoDB Lock Modes" and "Deadlocks" (from memory).

jest.setTimeout(60_000);

const address = ownDatabase('locks');
let db: Database;
let other: Knex;

beforeAll(async () => {
  db = await connect(address);
  other = beside(address, { database: address.database });
  await db.schema.createTable('cells', (t) => {
    t.integer('id').primary();
    t.integer('level').notNullable();
  });
  await db('cells').insert(Array.from({ length: 40 }, (_, id) => ({ id, level: 0 })));
});

afterAll(async () => {
  await db.raw('DROP DATABASE ??', [address.database]);
  await Promise.all([db.destroy(), other.destroy()]);
});

/** How often the database broke something off so far because of locks that waited for one another. */
const brokenOff = async (): Promise<number> => {
  const [[{ Value }]] = (await db.raw("SHOW GLOBAL STATUS LIKE 'Innodb_deadlocks'")) as [[{ Value: string }]];
  return Number(Value);
};

/** Lets `write` wait for a row that somebody else reads, and is then in the way of their own write of it. */
async function broughtToDeadlock(write: () => Promise<unknown>): Promise<unknown> {
  await other.raw('START TRANSACTION');
  await other('cells').where('id', '>', 0).decrement('level', 1);
  await other.raw('SELECT * FROM cells WHERE id = 0 LOCK IN SHARE MODE');
  const writing = write();
  // It may end badly before anyone looks.
  writing.catch(() => undefined);
  await new Promise((resolve) => setTimeout(resolve, 200));
  await other('cells').where({ id: 0 }).update({ level: -5 });
  await other.raw('COMMIT');
  return writing;
}

test('a statement by itself that the database broke off is done again: nobody is told, and it stands', async () => {
  const before = await brokenOff();
  expect(await broughtToDeadlock(() => db('cells').where({ id: 0 }).update({ level: -20 }).then())).toBe(1);
  expect(await db('cells').where({ id: 0 }).first('level')).toEqual({ level: -20 });
  expect(await brokenOff()).toBe(before + 1);
});

test('within a transaction no statement is done again alone: what stood before it in the transaction was taken back', async () => {
  const lost = broughtToDeadlock(() =>
    db.transaction(async (tx) => {
      await tx('cells').insert({ id: -1, level: 1 });
      await tx('cells').where({ id: 0 }).update({ level: -30 });
    }),
  );
  await expect(lost).rejects.toMatchObject({ code: 'ER_LOCK_DEADLOCK' });
  expect(await db('cells').where({ id: -1 })).toEqual([]);
});
