import type { Knex } from 'knex';

/** Whether every sample of a stem is nothing. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('stems', (t) => t.boolean('silent').notNullable().defaultTo(false));
}
