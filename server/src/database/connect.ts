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

/** What the driver is told. */
const optionsOf = ({ databasePort, databasePassword }: DatabaseAddress): ConnectionOptions => ({
  host: '127.0.0.1',
  port: databasePort,
  user: 'old_echo',
  password: databasePassword,
});

/** A connection of its own, for nothing but to ask whether the database answers. */
export function openPulse(address: DatabaseAddress): {
  readonly ask: () => Promise<unknown>;
  readonly close: () => Promise<void>;
} {
  const connection = optionsOf(address) as Knex.StaticConnectionConfig;
  const one = knex({ client: 'mysql2', connection, pool: { min: 0, max: 1 } });
  return { ask: async (): Promise<unknown> => one.raw('SELECT 1'), close: () => one.destroy() };
}

/** Connects to MariaDB on loopback, making the database when it does not exist and bringing it up to date. */
export async function connect(at: DatabaseAddress): Promise<Database> {
  const { database } = at;
  const address = optionsOf(at);
  // JSON as text, whatever a column is declared as; Knex's types do not know the driver's word for it.
  const options: ConnectionOptions = { ...address, database, charset: 'utf8mb4', timezone: 'Z', jsonStrings: true };
  const open = () =>
    knex({ client: 'mysql2', connection: options as Knex.StaticConnectionConfig, pool: { min: 0, max: 10 } });
  const one = knex({
    client: 'mysql2',
    connection: address as Knex.StaticConnectionConfig,
    pool: { min: 1, max: 1 },
  });
  try {
    await one.raw('CREATE DATABASE IF NOT EXISTS ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [database]);
    await upgrade(one, database, open);
  } finally {
    await one.destroy();
  }
  const db = open();
  retrySingleStatements(db);
  return db;
}
