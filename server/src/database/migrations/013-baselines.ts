import type { Knex } from 'knex';

import { timestampColumn, ulidColumn } from '../column-types';

/** What each desk is meant to hold, and what was last heard of it; scenes that are a part of a desk. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('baselines', (t) => {
    ulidColumn(t, 'desk_id').primary().references('desks.id').onDelete('CASCADE');
    t.text('state', 'longtext').notNullable();
    /** Where its cells came from. */
    t.text('origins', 'longtext').notNullable();
    t.integer('revision').notNullable();
  });
  await db.schema.createTable('heard', (t) => {
    ulidColumn(t, 'desk_id').primary().references('desks.id').onDelete('CASCADE');
    t.text('state', 'longtext').notNullable();
    timestampColumn(t, 'heard_at').notNullable();
  });
  // The part of the baseline that the restore replaced, for its way back.
  await db.schema.alterTable('scenes', (t) => {
    /** Whether it holds only a part of its desk. */
    t.boolean('partial').notNullable().defaultTo(false);
  });
  await db.schema.alterTable('restores', (t) => {
    t.text('baseline_before', 'longtext').nullable();
  });
}
