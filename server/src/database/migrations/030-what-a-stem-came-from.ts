import type { Knex } from 'knex';

/** The size of the file that a stem came from, in bytes, and when that was changed last, in ms since 1970: so the same file is known again. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('stems', (t) => {
    t.bigInteger('came_bytes').nullable();
    t.bigInteger('came_modified').nullable();
  });
}
