import type { Knex } from 'knex';

/**
 * Where a scene stands in its production, and the number it has among those that people captured: what is kept by itself has
 * a place, and no number.
 */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE scenes CHANGE number ordinal INT UNSIGNED NOT NULL');
  await db.raw('ALTER TABLE scenes ADD number INT UNSIGNED NULL AFTER ordinal');
  // Whoever knows a scene by its number still finds it there.
  await db.raw(`UPDATE scenes SET number = ordinal WHERE kind = 'scene'`);
  await db.raw('ALTER TABLE scenes ADD UNIQUE scenes_production_id_number (production_id, number)');
  await db.raw('ALTER TABLE productions ADD next_ordinal INT UNSIGNED NOT NULL DEFAULT 1 AFTER next_number');
  await db.raw('UPDATE productions SET next_ordinal = next_number');
}
