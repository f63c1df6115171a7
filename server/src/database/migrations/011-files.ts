import type { Knex } from 'knex';

import { timestampColumn, ulidColumn } from '../column-types';

/** Files that were brought in: what is inside, and how far what was chosen of them is. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('files', (t) => {
    ulidColumn(t, 'id').primary();
    t.string('name', 200).notNullable();
    t.bigInteger('bytes').notNullable();
    t.enum('status', ['here', 'bringing in', 'done', 'failed', 'cancelled']).notNullable().defaultTo('here');
    t.integer('done').notNullable().defaultTo(0);
    t.integer('total').notNullable().defaultTo(0);
    t.string('why', 1000).notNullable().defaultTo('');
    t.boolean('cancel').notNullable().defaultTo(false);
    t.string('href', 200).nullable();
    timestampColumn(t, 'made_at').notNullable();
  });
}
