import type { Knex } from 'knex';

import { id, moment, short } from '../column-types';

/**
 * Blind tests of two sides of a comparison: scenes by id, or sounds by name. Mixes are worked out again when they are asked
 * for, since more is measured of them now.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('blind_tests', (t) => {
    id(t, 'id').primary();
    id(t, 'production_id').notNullable().references('productions.id').onDelete('CASCADE');
    short(t, 'a', 64).notNullable();
    short(t, 'b', 64).notNullable();
    t.string('heard', 200).notNullable();
    /** What hid behind X and what was said, in order: "AB BB …". */
    short(t, 'answers', 800).notNullable();
    moment(t, 'made_at').notNullable();
    t.index(['a', 'b']);
  });
  await db('renders').delete();
}
