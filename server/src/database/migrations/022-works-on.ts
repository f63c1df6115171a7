import type { Knex } from 'knex';

import { ulidColumn } from '../column-types';

/** The song or show that someone said a desk works on, while a scene of another stands on it. */
export const up = (db: Knex): Promise<void> =>
  db.schema.alterTable('desks', (t) => {
    ulidColumn(t, 'works_on_id').nullable().references('productions.id').onDelete('SET NULL');
  });
