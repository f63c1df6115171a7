import knex, { type Knex } from 'knex';

import { migrations } from './migrations';

export type Database = Knex;

/** Connects to MariaDB over its socket, making the database when it does not exist and bringing it up to date. */
export async function connect(socketPath: string, database: string): Promise<Database> {
  const admin = knex({ client: 'mysql2', connection: { socketPath, user: 'root' } });
  try {
    await admin.raw('CREATE DATABASE IF NOT EXISTS ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [database]);
  } finally {
    await admin.destroy();
  }
  const db = knex({
    client: 'mysql2',
    connection: { socketPath, user: 'root', database, charset: 'utf8mb4', timezone: 'Z' },
    pool: { min: 0, max: 10 },
  });
  await db.migrate.latest({ migrationSource: migrations });
  return db;
}
