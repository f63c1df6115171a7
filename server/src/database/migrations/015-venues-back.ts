import type { Knex } from 'knex';

/** What a hall was before it was kept anew, and halls that were removed: both can be taken back. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('halls', (t) => {
    t.text('before', 'mediumtext').nullable();
    t.boolean('removed').notNullable().defaultTo(false);
  });
}
