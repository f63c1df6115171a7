import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/**
 * Blind tests of two sides of a comparison: scenes by id, or sounds by name. Mixes are worked out again when they are asked
 * for, since more is measured of them now.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('blind_tests', (t) => {
    ulidColumn(t, 'id').primary();
    ulidColumn(t, 'production_id').notNullable().references('productions.id').onDelete('CASCADE');
    asciiColumn(t, 'a', 64).notNullable();
    asciiColumn(t, 'b', 64).notNullable();
    t.string('heard', 200).notNullable();
    /** What hid behind X and what was said, in order: "AB BB …". */
    asciiColumn(t, 'answers', 800).notNullable();
    timestampColumn(t, 'made_at').notNullable();
    t.index(['a', 'b']);
  });
  await db('renders').delete();
}
