import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/** The library; what is put together for a desk; and which strips of a desk came from what. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('presets', (t) => {
    ulidColumn(t, 'id').primary();
    t.enum('kind', ['processor', 'strip', 'kit', 'bus', 'patch', 'template']).notNullable();
    t.string('name', 100).notNullable();
    t.string('folder', 60).notNullable();
    t.json('tags').notNullable();
    t.text('note').notNullable();
    t.boolean('favourite').notNullable().defaultTo(false);
    t.boolean('starts').notNullable().defaultTo(false);
    asciiColumn(t, 'profile_id', 40).notNullable().references('profiles.id');
    t.string('made_on', 100).notNullable();
    t.string('gist', 100).notNullable();
    t.integer('edition').notNullable().defaultTo(1);
    timestampColumn(t, 'binned_at').nullable();
    t.integer('revision').notNullable().defaultTo(1);
    /** The name where it must be unique: what is in the bin may share it. */
    t.specificType('own_name', `VARCHAR(110) AS (IF(binned_at IS NULL, CONCAT(kind, '/', name), NULL)) PERSISTENT`);
    t.unique(['own_name']);
  });
  await db.schema.createTable('preset_editions', (t) => {
    ulidColumn(t, 'preset_id').notNullable().references('presets.id').onDelete('CASCADE');
    t.integer('edition').notNullable();
    t.text('content', 'mediumtext').notNullable();
    t.string('made_by', 40).notNullable();
    timestampColumn(t, 'made_at').notNullable();
    t.primary(['preset_id', 'edition']);
  });
  await db.schema.createTable('placements', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'desk_id').notNullable().references('desks.id').onDelete('CASCADE');
    t.string('title', 200).notNullable();
    t.text('settings', 'mediumtext').notNullable();
    t.text('marks', 'mediumtext').notNullable();
    t.boolean('own_gain').notNullable();
    timestampColumn(t, 'made_at').notNullable().index();
  });
  await db.schema.createTable('strip_origins', (t) => {
    ulidColumn(t, 'desk_id').notNullable().references('desks.id').onDelete('CASCADE');
    asciiColumn(t, 'strip', 12).notNullable();
    ulidColumn(t, 'preset_id').notNullable().references('presets.id').onDelete('CASCADE');
    t.integer('edition').notNullable();
    /** The settings as they landed. */
    t.text('landed', 'mediumtext').notNullable();
    t.primary(['desk_id', 'strip', 'preset_id']);
  });
  await db.schema.alterTable('restores', (t) => {
    t.string('scene_name', 200).notNullable().defaultTo('').alter();
  });
}
