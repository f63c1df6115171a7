import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/** Show lock, thresholds and flip of a desk; a log of restores that tells all of them; named scopes; ripples. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('desks', (t) => {
    t.json('thresholds').notNullable().defaultTo('{}');
    t.boolean('show_lock').notNullable().defaultTo(false);
    /** The other side of a flip, and the scope it comes back with. */
    ulidColumn(t, 'flip_scene_id').nullable().references('scenes.id').onDelete('SET NULL');
    t.json('flip_scope').nullable();
  });

  await db.schema.alterTable('restores', (t) => {
    /** What was asked for: the recall, the fade, the answers and who asked. */
    t.json('request').nullable();
    /** What each answered caution said. */
    t.json('answered').notNullable().defaultTo('[]');
    t.specificType(
      'status',
      `ENUM('running', 'confirmed', 'incomplete', 'cancelled', 'rolled back', 'interrupted') NOT NULL`,
    ).alter();
    /** Asked for while it is at work, by whoever and on whichever server. */
    t.enum('cancel', ['stop', 'roll back']).nullable();
    ulidColumn(t, 'resumes').nullable().references('restores.id').onDelete('SET NULL');
  });
  await db.raw(
    // A scene that was removed for good has left no id; its restore's own, which names no scene, stands in.
    `UPDATE restores SET request = JSON_OBJECT(
       'recall', JSON_OBJECT('sceneId', IFNULL(scene_id, id), 'scope', JSON_EXTRACT(scope, '$')),
       'fingerprint', REPEAT('0', 64))`,
  );
  await db.schema.alterTable('restores', (t) => {
    t.json('request').notNullable().alter();
    t.dropColumn('scope');
  });

  await db.schema.createTable('scopes', (t) => {
    ulidColumn(t, 'id').primary();
    asciiColumn(t, 'profile_id', 40).notNullable().references('profiles.id');
    t.string('name', 100).notNullable();
    t.json('scope').notNullable();
    t.unique(['profile_id', 'name']);
  });

  // One change written into many scenes, undone as one.
  await db.schema.createTable('ripples', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'desk_id').notNullable().references('desks.id');
    t.string('made_by', 100).notNullable();
    timestampColumn(t, 'made_at').notNullable();
    timestampColumn(t, 'undone_at').nullable();
  });
  await db.schema.createTable('ripple_scenes', (t) => {
    ulidColumn(t, 'ripple_id').notNullable().references('ripples.id').onDelete('CASCADE');
    ulidColumn(t, 'old_id').notNullable().references('scenes.id').onDelete('CASCADE');
    ulidColumn(t, 'new_id').notNullable().references('scenes.id').onDelete('CASCADE');
    t.primary(['ripple_id', 'old_id']);
  });
}
