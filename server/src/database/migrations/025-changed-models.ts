import type { Knex } from 'knex';

import { timestampColumn } from '../column-types';

/** When a model of desk was last changed by somebody; what its scenes hold beyond it is set aside from then on. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('profiles', (t) => {
    timestampColumn(t, 'changed_at').nullable();
  });
}
