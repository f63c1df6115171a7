import type { Knex } from 'knex';

/** When a stem begins, as its file says. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('stems', (t) => {
    t.bigInteger('time_reference').nullable();
  });
}
