import type { Knex } from 'knex';

/** The highest sample of each stem, in dB of full scale; null for silence, and for those that came before. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('stems', (t) => t.float('peak').nullable());
}
