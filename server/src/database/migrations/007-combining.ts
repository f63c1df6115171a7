import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/** Scenes in the making out of several, and where the cells of those that were made came from. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('combinations', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'base_id').notNullable().references('scenes.id').onDelete('CASCADE');
    t.json('recipe').notNullable();
    timestampColumn(t, 'changed_at').notNullable();
    t.integer('revision').notNullable().defaultTo(1);
  });
  await db.schema.createTable('scene_origins', (t) => {
    ulidColumn(t, 'scene_id').notNullable().references('scenes.id').onDelete('CASCADE');
    asciiColumn(t, 'cell', 40).notNullable();
    ulidColumn(t, 'from_id').notNullable().references('scenes.id').onDelete('CASCADE');
    t.primary(['scene_id', 'cell']);
  });
}
