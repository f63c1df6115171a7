import knex, { type Knex } from 'knex';
import { ulid } from 'ulid';

import type { DatabaseAddress } from '../src/database/connect';

/** The address of a database of a test's own, which does not exist yet. */
export const ownDatabase = (name = 'own'): DatabaseAddress => ({
  databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
  databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
  database: `${name}_${ulid().toLowerCase()}`,
});

/** A connection to the database server beside ours: one, so that what is said on it holds for what comes after. */
export const beside = (
  { databasePort, databasePassword }: DatabaseAddress,
  options: Knex.MySql2ConnectionConfig = {},
): Knex =>
  knex({
    client: 'mysql2',
    connection: { host: '127.0.0.1', port: databasePort, user: 'old_echo', password: databasePassword, ...options },
    pool: { min: 1, max: 1 },
  });
