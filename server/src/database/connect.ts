import knex, { type Knex } from 'knex';
import type { ConnectionOptions } from 'mysql2';

import { retrySingleStatements } from './retry';
import { upgrade } from './upgrade';

export type Database = Knex;

export interface DatabaseAddress {
  readonly databasePort: number;
  readonly databasePassword: string;
  readonly database: string;
}

/** JSON comes as text, whatever a column is declared as; Knex's types do not know the driver's word for it. */
const DRIVER: ConnectionOptions = {
  host: '127.0.0.1',
  user: 'old_echo',
  charset: 'utf8mb4',
  timezone: 'Z',
  jsonStrings: true,
};

function open(
  { databasePort: port, databasePassword: password }: DatabaseAddress,
  pool: Knex.PoolConfig,
  database?: string,
): Database {
  const connection = { ...DRIVER, port, password, ...(database === undefined ? {} : { database }) };
  return knex({ client: 'mysql2', connection: connection as Knex.StaticConnectionConfig, pool });
}

/** A way to the database that does not wait behind the others' questions: for hands at a desk, and to ask whether it answers. */
export const openAside = (at: DatabaseAddress): Database => open(at, { min: 0, max: 2 }, at.database);

const POOL = { min: 0, max: 10 };

/** Connects to MariaDB on loopback, making the database when it does not exist and bringing it up to date. */
export async function connect(at: DatabaseAddress): Promise<Database> {
  const { database } = at;
  // Kept open throughout: it holds the lock.
  const one = open(at, { min: 1, max: 1 });
  try {
    await one.raw('CREATE DATABASE IF NOT EXISTS ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [database]);
    await upgrade(one, database, () => open(at, POOL, database));
  } finally {
    await one.destroy();
  }
  const db = open(at, POOL, database);
  retrySingleStatements(db);
  return db;
}
