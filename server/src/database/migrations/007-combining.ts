import type { Knex } from 'knex';

import { id, moment, short } from '../column-types';

/** Scenes in the making out of several, and where the cells of those that were made came from. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('combinations', (t) => {
    id(t, 'id').primary();
    id(t, 'base_id').notNullable().references('scenes.id').onDelete('CASCADE');
    t.json('recipe').notNullable();
    moment(t, 'changed_at').notNullable();
    t.integer('revision').notNullable().defaultTo(1);
  });
  await db.schema.createTable('scene_origins', (t) => {
    id(t, 'scene_id').notNullable().references('scenes.id').onDelete('CASCADE');
    short(t, 'cell', 40).notNullable();
    id(t, 'from_id').notNullable().references('scenes.id').onDelete('CASCADE');
    t.primary(['scene_id', 'cell']);
  });
}
