import type { Knex } from 'knex';

import { timestampColumn } from '../column-types';

/** When a desk was taken out of use; its songs and shows stay. */
export const up = (db: Knex): Promise<void> =>
  db.schema.alterTable('desks', (t) => {
    timestampColumn(t, 'removed_at').nullable();
  });
