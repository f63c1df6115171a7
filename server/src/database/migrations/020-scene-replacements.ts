import type { Knex } from 'knex';

import { ulidColumn } from '../column-types';

/** The scene that was last replaced from each desk, so that this can be undone. */
export const up = (db: Knex): Promise<void> =>
  db.schema.createTable('scene_replacements', (t) => {
    ulidColumn(t, 'desk_id').primary().references('desks.id').onDelete('CASCADE');
    ulidColumn(t, 'scene_id').notNullable().references('scenes.id').onDelete('CASCADE');
    ulidColumn(t, 'replaced_id').notNullable().references('scenes.id').onDelete('CASCADE');
    /** What the desk was meant to hold before, and the revision of what it was meant to hold after. */
    t.text('baseline_before', 'longtext').nullable();
    t.integer('baseline_revision').notNullable();
  });
