import type { Knex } from 'knex';

import { asciiColumn, ulidColumn } from '../column-types';

/** What stands on manual desks, as people said; and restores of which a part is set by hand. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('manual_settings', (t) => {
    ulidColumn(t, 'desk_id').notNullable().references('desks.id').onDelete('CASCADE');
    asciiColumn(t, 'address', 150).notNullable();
    t.text('value', 'mediumtext').notNullable();
    t.primary(['desk_id', 'address']);
  });
  await db.schema.alterTable('restores', (t) => {
    t.specificType(
      'status',
      `ENUM('running', 'walk', 'confirmed', 'incomplete', 'cancelled', 'rolled back', 'interrupted') NOT NULL`,
    ).alter();
    /** What its end needs to know, once all that is wired is done. */
    t.text('walk', 'mediumtext').nullable();
    /** What was said of what is set by hand. */
    t.text('walk_marks', 'mediumtext').nullable();
  });
}
