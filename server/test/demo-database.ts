import type { Knex } from 'knex';

import { connect, type DatabaseAddress } from '../src/database/connect';
import { seedIfEmpty } from '../src/files/seed-database';

const TEMPLATE = 'template';

/** Copies a database as a fresh demo has it, which is filled once for all tests of a run: filling it takes seconds. */
export async function copyDemoDatabase(
  admin: Knex,
  { database, ...server }: DatabaseAddress,
  seed: string,
  deskPort: number,
): Promise<void> {
  await admin.raw('SELECT GET_LOCK(?, 300)', [TEMPLATE]);
  try {
    const [found] = (await admin.raw('SHOW DATABASES LIKE ?', [TEMPLATE])) as [unknown[]];
    if (found.length === 0) {
      const db = await connect({ ...server, database: TEMPLATE });
      await seedIfEmpty(db, seed);
      await db.destroy();
    }
  } finally {
    await admin.raw('SELECT RELEASE_LOCK(?)', [TEMPLATE]);
  }
  await admin.raw('CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [database]);
  await admin.raw('USE ??', [database]);
  // Tables come in any order, and columns that work themselves out are not to be refused.
  await admin.raw("SET FOREIGN_KEY_CHECKS = 0, SQL_MODE = ''");
  const [tables] = (await admin.raw('SHOW TABLES FROM ??', [TEMPLATE])) as [Record<string, string>[]];
  for (const table of tables.flatMap((row) => Object.values(row))) {
    const [[made]] = (await admin.raw('SHOW CREATE TABLE ??.??', [TEMPLATE, table])) as [
      [Record<'Create Table', string>],
    ];
    await admin.raw(made['Create Table']);
    await admin.raw('INSERT INTO ?? SELECT * FROM ??.??', [table, TEMPLATE, table]);
  }
  await admin('desks').where({ profile_id: 'quay-48' }).update({ port: deskPort });
}
