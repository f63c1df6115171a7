import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/** Versions that take over the later changes of another; what the client or the band wished for. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('versions', (t) => {
    ulidColumn(t, 'follows_id').nullable().references('versions.id').onDelete('SET NULL');
  });
  await db.schema.createTable('wishes', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'version_id').notNullable().references('versions.id').onDelete('CASCADE');
    t.string('text', 500).notNullable();
    /** Where in the song, in seconds. */
    t.decimal('at', 8, 1).nullable();
    asciiColumn(t, 'strip', 12).nullable();
    t.string('who', 100).notNullable().defaultTo('');
    t.enum('state', ['open', 'tried', 'done', 'declined']).notNullable().defaultTo('open');
    /** The scene that answers it. */
    ulidColumn(t, 'scene_id').nullable().references('scenes.id').onDelete('SET NULL');
    timestampColumn(t, 'made_at').notNullable();
    t.integer('revision').notNullable().defaultTo(1);
  });
}
