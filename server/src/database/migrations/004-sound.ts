import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/** Stems of productions, and mixes that are worked out from them. The samples themselves are files named by their content. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('stems', (t) => {
    ulidColumn(t, 'production_id').notNullable().references('productions.id').onDelete('CASCADE');
    asciiColumn(t, 'strip', 12).notNullable();
    t.string('name', 200).notNullable();
    asciiColumn(t, 'hash', 64).notNullable().index();
    t.integer('rate').notNullable();
    t.integer('channels').notNullable();
    asciiColumn(t, 'depth', 5).notNullable();
    t.bigInteger('frames').notNullable();
    /** Gain and pad of the strip when it was attached, in dB: the model hears only what differs from it. */
    t.float('gain').notNullable();
    timestampColumn(t, 'made_at').notNullable();
    t.primary(['production_id', 'strip']);
  });
  await db.schema.createTable('renders', (t) => {
    asciiColumn(t, 'id', 64).primary();
    t.enum('status', ['running', 'done', 'failed', 'cancelled']).notNullable();
    t.integer('done').notNullable().defaultTo(0);
    t.integer('total').notNullable().defaultTo(0);
    t.string('why', 500).notNullable().defaultTo('');
    /** Asked for by whoever, on whichever server. */
    t.boolean('cancel').notNullable().defaultTo(false);
    t.text('measured', 'mediumtext').nullable();
    /** The last sign of life of whoever works on it. */
    timestampColumn(t, 'beat_at').notNullable();
  });
}
