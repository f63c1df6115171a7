import type { Knex } from 'knex';

/** A note about a venue. */
export const up = (db: Knex): Promise<void> =>
  db.schema.alterTable('venues', (t) => {
    t.specificType('note', `TEXT NOT NULL DEFAULT ''`);
  });
