import type { Knex } from 'knex';

import { ulidColumn } from '../column-types';

/** What a job is making is known before it is there: whoever stops in the middle leaves nothing that nobody finds again. */
export const up = (db: Knex): Promise<void> =>
  db.schema.alterTable('jobs', (t) => {
    ulidColumn(t, 'making_id').nullable();
  });
