import type { Knex } from 'knex';

import { asciiColumn, ulidColumn } from '../column-types';

export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('profiles', (t) => {
    asciiColumn(t, 'id', 40).primary();
    t.string('name', 100).notNullable();
    t.text('source', 'mediumtext').notNullable();
  });

  await db.schema.createTable('desks', (t) => {
    ulidColumn(t, 'id').primary();
    t.string('name', 100).notNullable();
    asciiColumn(t, 'profile_id', 40).notNullable().references('profiles.id');
    t.string('host', 255).notNullable();
    t.integer('port').unsigned().notNullable();
    t.enum('mode', ['studio', 'live']).notNullable();
    t.json('safes').notNullable();
    t.integer('place').notNullable();
    /** The scene that stands on the desk. */
    ulidColumn(t, 'scene_id').nullable();
    /** The restore at work, and until when it may be believed to be alive. */
    ulidColumn(t, 'lease_by').nullable();
    t.specificType('lease_until', 'DATETIME(3)').nullable();
  });

  await db.schema.createTable('productions', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'desk_id').notNullable().references('desks.id');
    t.string('name', 100).notNullable();
    t.enum('kind', ['song', 'show']).notNullable();
    t.text('note').notNullable();
    t.integer('place').notNullable();
    t.integer('next_number').unsigned().notNullable().defaultTo(1);
  });

  await db.schema.createTable('versions', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'production_id').notNullable().references('productions.id');
    t.string('name', 100).notNullable();
    t.integer('place').notNullable();
    ulidColumn(t, 'from_scene_id').nullable();
    t.unique(['production_id', 'name']);
  });

  await db.schema.createTable('scenes', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'version_id').notNullable().references('versions.id');
    t.integer('number').unsigned().notNullable();
    t.string('name', 100).notNullable();
    t.text('note').notNullable();
    t.string('milestone', 100).notNullable();
    t.enum('kind', ['scene', 'way back']).notNullable();
    t.json('scope').nullable();
    t.integer('changed_settings').unsigned().notNullable();
    t.integer('changed_strips').unsigned().notNullable();
    t.specificType('made_at', 'DATETIME(3)').notNullable();
    t.integer('revision').unsigned().notNullable().defaultTo(1);
    /** The name where it must be unique inside the version: way backs may share theirs. */
    t.specificType('own_name', `VARCHAR(100) AS (IF(kind = 'scene', name, NULL)) PERSISTENT`);
    t.unique(['version_id', 'own_name']);
    t.index(['version_id', 'number']);
  });
  await db.schema.alterTable('desks', (t) => void t.foreign('scene_id').references('scenes.id').onDelete('SET NULL'));
  await db.schema.alterTable(
    'versions',
    (t) => void t.foreign('from_scene_id').references('scenes.id').onDelete('SET NULL'),
  );

  await db.schema.createTable('scene_parents', (t) => {
    ulidColumn(t, 'scene_id').notNullable().references('scenes.id').onDelete('CASCADE');
    ulidColumn(t, 'parent_id').notNullable().references('scenes.id').onDelete('CASCADE');
    t.integer('place').notNullable();
    t.primary(['scene_id', 'place']);
  });

  // Each different state of a strip once, found by its fingerprint; a scene is a list of them.
  await db.schema.createTable('strip_states', (t) => {
    t.increments('id');
    t.specificType('fingerprint', 'BINARY(32)').notNullable().unique();
    /** The settings as JSON, deflated. */
    t.specificType('content', 'MEDIUMBLOB').notNullable();
  });
  await db.schema.createTable('scene_strips', (t) => {
    ulidColumn(t, 'scene_id').notNullable().references('scenes.id').onDelete('CASCADE');
    asciiColumn(t, 'strip', 12).notNullable();
    t.integer('strip_state_id').unsigned().notNullable().references('strip_states.id');
    t.primary(['scene_id', 'strip']);
  });

  await db.schema.createTable('restores', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'desk_id').notNullable().references('desks.id');
    ulidColumn(t, 'scene_id').notNullable().references('scenes.id').onDelete('CASCADE');
    ulidColumn(t, 'way_back_id').notNullable().references('scenes.id').onDelete('CASCADE');
    t.json('scope').notNullable();
    t.json('way_back_scope').notNullable();
    /** The journal: every change that is going to be sent, in order, written before the first is. */
    t.text('journal', 'mediumtext').notNullable();
    t.integer('changes').unsigned().notNullable();
    t.enum('status', ['running', 'confirmed', 'incomplete', 'interrupted']).notNullable();
    t.text('report', 'mediumtext').nullable();
    t.specificType('started_at', 'DATETIME(3)').notNullable();
    t.specificType('ended_at', 'DATETIME(3)').nullable();
    t.index(['desk_id', 'started_at']);
  });
}
