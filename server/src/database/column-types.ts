import type { Knex } from 'knex';

/** A ULID. */
export const ulidColumn = (t: Knex.CreateTableBuilder, name: string) =>
  t.specificType(name, 'CHAR(26) CHARACTER SET ascii COLLATE ascii_bin');

/** A short name of ours, compared byte by byte. */
export const asciiColumn = (t: Knex.CreateTableBuilder, name: string, length: number) =>
  t.specificType(name, `VARCHAR(${length}) CHARACTER SET ascii COLLATE ascii_bin`);

/** A moment in UTC, to the millisecond. */
export const timestampColumn = (t: Knex.CreateTableBuilder, name: string) => t.specificType(name, 'DATETIME(3)');
