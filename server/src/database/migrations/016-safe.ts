import type { Knex } from 'knex';

import { ulidColumn } from '../column-types';

/** What was looked at and accepted between two scenes; what a hand holds; a way back that takes no time. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('accepted', (t) => {
    ulidColumn(t, 'desk_id').notNullable().references('desks.id').onDelete('CASCADE');
    ulidColumn(t, 'from_id').notNullable().references('scenes.id').onDelete('CASCADE');
    ulidColumn(t, 'to_id').notNullable().references('scenes.id').onDelete('CASCADE');
    /** All that cautions said, as far as it went. */
    t.json('points').notNullable();
    t.primary(['desk_id', 'from_id', 'to_id']);
  });
  await db.schema.alterTable('desks', (t) => {
    t.enum('hand_holds', ['control', 'strip']).notNullable().defaultTo('control');
  });
  await db.schema.alterTable('restores', (t) => {
    t.enum('cancel', ['stop', 'roll back', 'roll back at once']).nullable().alter();
  });
}
