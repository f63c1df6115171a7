import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/**
 * Who is let in and what they may do, and who changed what. A device that was let in before belongs to somebody of its name from then on,
 * who may do what it could; codes of before are forgotten.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('people', (t) => {
    ulidColumn(t, 'id').primary();
    t.string('name', 40).notNullable().unique();
    asciiColumn(t, 'role', 10).notNullable();
    asciiColumn(t, 'password_hash', 120).nullable();
    timestampColumn(t, 'made_at').notNullable();
  });
  await db.schema.createTable('production_roles', (t) => {
    ulidColumn(t, 'person_id').notNullable().references('people.id').onDelete('CASCADE');
    ulidColumn(t, 'production_id').notNullable().references('productions.id').onDelete('CASCADE');
    asciiColumn(t, 'role', 10).notNullable();
    t.primary(['person_id', 'production_id']);
  });
  await db.raw(`INSERT INTO people (id, name, role, made_at)
    SELECT id, CONCAT(LEFT(name, 34), ' ', RIGHT(id, 5)), 'engineer', made_at FROM devices WHERE shut_out_at IS NULL`);
  await db('devices').whereNotNull('shut_out_at').delete();
  await db.schema.alterTable('devices', (t) => {
    ulidColumn(t, 'person_id').nullable().references('people.id').onDelete('CASCADE');
  });
  await db('devices').update({ person_id: db.ref('id') });
  await db('entry_codes').delete();
  await db.schema.alterTable('entry_codes', (t) => {
    ulidColumn(t, 'person_id').notNullable().references('people.id').onDelete('CASCADE');
  });
  await db.schema.createTable('changes', (t) => {
    ulidColumn(t, 'id').primary();
    t.string('person', 40).notNullable();
    t.string('device', 40).notNullable();
    asciiColumn(t, 'route', 100).notNullable();
    t.string('about', 60).notNullable();
  });
  await db.schema.alterTable('desks', (t) => {
    asciiColumn(t, 'pin_hash', 120).nullable();
  });
  await db.schema.alterTable('scenes', (t) => {
    t.string('made_by', 100).notNullable().defaultTo('');
  });
  await db.schema.alterTable('preset_editions', (t) => {
    t.string('made_by', 100).notNullable().alter();
  });
}
