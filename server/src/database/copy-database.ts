import type { Knex } from 'knex';

/**
 * Makes a database anew as a copy of another, with everything that its tables say of themselves.
 * @param one a connection alone, on which what is set holds for what comes after
 */
export async function copyDatabase(one: Knex, from: string, to: string): Promise<void> {
  await one.raw('DROP DATABASE IF EXISTS ??', [to]);
  await one.raw('CREATE DATABASE ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [to]);
  await one.raw('USE ??', [to]);
  // Tables come in any order, and columns that work themselves out are not to be refused.
  await one.raw("SET FOREIGN_KEY_CHECKS = 0, SQL_MODE = ''");
  const [tables] = (await one.raw('SHOW TABLES FROM ??', [from])) as [Record<string, string>[]];
  for (const table of tables.flatMap((row) => Object.values(row))) {
    const [[made]] = (await one.raw('SHOW CREATE TABLE ??.??', [from, table])) as [[Record<'Create Table', string>]];
    await one.raw(made['Create Table'].replaceAll('?', '\\?'));
    await one.raw('INSERT INTO ?? SELECT * FROM ??.??', [table, from, table]);
  }
}
