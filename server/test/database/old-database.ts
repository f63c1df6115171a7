import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';

import type { Knex } from 'knex';

import type { DatabaseAddress } from '../../src/database/connect';
import { beside } from '../own-database';

/** What of knex leads to the driver. */
interface Pool {
  acquireConnection(): Promise<Driver>;
  releaseConnection(driver: Driver): Promise<void>;
}
interface Driver {
  query(sql: string, done: (error: Error | null) => void): void;
}

/** Files and a database as Old Echo wrote them before its tables and formats had their words of today. */
export const fixture = (name: string): Buffer => readFileSync(join(__dirname, 'fixtures', name));

/** Makes a database as it was before the tables had their words of today; returns a connection to it. */
export async function makeOldDatabase(address: DatabaseAddress): Promise<Knex> {
  const old = beside(address, { multipleStatements: true });
  await old.raw('CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [address.database]);
  await old.raw('USE ??', [address.database]);
  // As it was dumped: columns that work themselves out are in it too.
  await old.raw("SET FOREIGN_KEY_CHECKS = 0, SQL_MODE = ''");
  // As text to the driver, not through knex: a question mark in a note is no place for a value.
  const pool = old.client as Pool;
  const driver = await pool.acquireConnection();
  await new Promise<void>((resolve, reject) =>
    driver.query(gunzipSync(fixture('database-16.sql.gz')).toString(), (error) => (error ? reject(error) : resolve())),
  );
  await pool.releaseConnection(driver);
  return old;
}

export const fingerprintsIn = async (db: Knex): Promise<string[]> =>
  (await db('strip_states').pluck('fingerprint')).map((one) => one.toString('hex')).sort();
