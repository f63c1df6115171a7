import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/** Devices on the network that were let in, the codes that let one in, and how often somebody tried. Codes and tokens are kept as hashes. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('devices', (t) => {
    ulidColumn(t, 'id').primary();
    t.string('name', 40).notNullable();
    asciiColumn(t, 'token_hash', 64).notNullable().unique();
    timestampColumn(t, 'made_at').notNullable();
    timestampColumn(t, 'seen_at').notNullable();
    timestampColumn(t, 'shut_out_at').nullable();
  });
  await db.schema.createTable('entry_codes', (t) => {
    asciiColumn(t, 'code_hash', 64).primary();
    timestampColumn(t, 'ends_at').notNullable();
    timestampColumn(t, 'used_at').nullable();
  });
  // As rate-limiter-flexible has it.
  await db.schema.createTable('attempts', (t) => {
    t.string('key', 255).primary();
    t.integer('points').notNullable().defaultTo(0);
    t.bigInteger('expire').unsigned().nullable();
  });
}
