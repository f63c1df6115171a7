import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/** What a hall was before it was kept anew, and what was removed with one touch: both can be given back. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('halls', (t) => {
    t.text('before', 'mediumtext').nullable();
  });
  await db.schema.createTable('taken_off', (t) => {
    ulidColumn(t, 'id').primary();
    /** The table it was in. */
    asciiColumn(t, 'from', 20).notNullable();
    t.text('row', 'mediumtext').notNullable();
    timestampColumn(t, 'taken_at').notNullable();
  });
}
