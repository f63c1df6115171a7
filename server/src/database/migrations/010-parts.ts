import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/** What strips carry, what it is set to in which hall, what stands beside the desk; and what is carried over to another desk. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('parts', (t) => {
    ulidColumn(t, 'production_id').notNullable().references('productions.id').onDelete('CASCADE');
    asciiColumn(t, 'strip', 12).notNullable();
    t.string('part', 40).notNullable();
    t.primary(['production_id', 'strip']);
  });
  await db.schema.createTable('halls', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'production_id').notNullable().references('productions.id').onDelete('CASCADE');
    t.string('name', 60).notNullable();
    t.text('settings', 'mediumtext').notNullable();
    timestampColumn(t, 'taken_at').nullable();
    t.unique(['production_id', 'name']);
  });
  await db.schema.createTable('outboard', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'production_id').notNullable().references('productions.id').onDelete('CASCADE');
    t.string('name', 80).notNullable();
    t.json('knobs').notNullable();
    t.text('note').notNullable();
    asciiColumn(t, 'photo', 64).nullable();
    t.integer('revision').notNullable().defaultTo(1);
  });
  // What stood beside the desk when a scene was captured.
  await db.schema.createTable('scene_outboard', (t) => {
    ulidColumn(t, 'scene_id').primary().references('scenes.id').onDelete('CASCADE');
    t.text('devices', 'mediumtext').notNullable();
  });
  await db.schema.createTable('matches', (t) => {
    ulidColumn(t, 'production_id').notNullable().references('productions.id').onDelete('CASCADE');
    ulidColumn(t, 'desk_id').notNullable().references('desks.id').onDelete('CASCADE');
    t.json('hands').notNullable();
    t.primary(['production_id', 'desk_id']);
  });
  await db.schema.createTable('carryings', (t) => {
    ulidColumn(t, 'id').primary();
    t.string('title', 200).notNullable();
    t.enum('status', ['running', 'done', 'cancelled', 'failed']).notNullable();
    t.integer('done').notNullable().defaultTo(0);
    t.integer('total').notNullable();
    t.string('why', 500).notNullable().defaultTo('');
    t.boolean('cancel').notNullable().defaultTo(false);
    ulidColumn(t, 'production_id').nullable();
    ulidColumn(t, 'scene_id').nullable();
    t.text('report', 'mediumtext').notNullable();
    /** The last sign of life of whoever works on it. */
    timestampColumn(t, 'beat_at').notNullable();
  });
}
