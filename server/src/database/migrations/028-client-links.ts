import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/** Links by which people without an account hear mixes, and what they said of them. Tokens and words are kept as hashes. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('client_links', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'production_id').notNullable().references('productions.id').onDelete('CASCADE');
    asciiColumn(t, 'token_hash', 64).notNullable().unique();
    t.string('name', 60).notNullable();
    t.string('note', 2000).notNullable();
    asciiColumn(t, 'word_hash', 120).nullable();
    t.boolean('may_download').notNullable();
    timestampColumn(t, 'made_at').notNullable();
    t.string('made_by', 100).notNullable();
    timestampColumn(t, 'ends_at').notNullable();
    timestampColumn(t, 'withdrawn_at').nullable();
    t.integer('opened').notNullable().defaultTo(0);
    timestampColumn(t, 'opened_at').nullable();
    t.tinyint('favourite').nullable();
    t.string('favourite_by', 40).notNullable().defaultTo('');
    t.tinyint('approved').nullable();
    t.string('approved_by', 40).notNullable().defaultTo('');
  });
  await db.schema.createTable('client_mixes', (t) => {
    ulidColumn(t, 'link_id').notNullable().references('client_links.id').onDelete('CASCADE');
    t.tinyint('place').notNullable();
    t.string('name', 120).notNullable();
    asciiColumn(t, 'sound', 64).notNullable();
    ulidColumn(t, 'scene_id').nullable().references('scenes.id').onDelete('SET NULL');
    t.primary(['link_id', 'place']);
  });
  // Who has said the word.
  await db.schema.createTable('client_visits', (t) => {
    asciiColumn(t, 'token_hash', 64).primary();
    ulidColumn(t, 'link_id').notNullable().references('client_links.id').onDelete('CASCADE');
  });
  await db.schema.alterTable('mix_notes', (t) => {
    ulidColumn(t, 'client_link_id').nullable().references('client_links.id').onDelete('SET NULL');
    t.tinyint('client_mix').nullable();
  });
  // Until when a mix is kept although nobody asks for it.
  await db.schema.alterTable('renders', (t) => {
    timestampColumn(t, 'kept_until').nullable();
  });
}
