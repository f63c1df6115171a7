import type { Knex } from 'knex';

import { fromJson, toJson } from '../json-column';

/** Columns that go by a name which says what they hold, by their table. */
const COLUMNS: Readonly<Record<string, readonly (readonly [from: string, to: string])[]>> = {
  blind_tests: [['heard', 'listening_label']],
  desks: [
    ['scene_id', 'current_scene_id'],
    ['lease_by', 'lease_holder_id'],
  ],
  presets: [['own_name', 'unique_name']],
  restores: [
    ['answered', 'answered_cautions'],
    ['resumes', 'resumes_restore_id'],
  ],
  ripple_scenes: [
    ['old_id', 'replaced_id'],
    ['new_id', 'scene_id'],
  ],
  scenes: [
    ['own_name', 'unique_name'],
    ['moved_names', 'changed_strip_names'],
  ],
  stems: [
    ['gain', 'recorded_gain_db'],
    ['peak', 'peak_db'],
  ],
};

/** Indexes are called after their columns, and are what a refused row names. */
const INDEXES: Readonly<Record<string, readonly [from: string, to: string]>> = {
  presets: ['presets_own_name_unique', 'presets_unique_name_unique'],
  scenes: ['scenes_version_id_own_name_unique', 'scenes_version_id_unique_name_unique'],
};

export async function up(db: Knex): Promise<void> {
  for (const [table, columns] of Object.entries(COLUMNS))
    for (const [from, to] of columns) await db.raw('ALTER TABLE ?? RENAME COLUMN ?? TO ??', [table, from, to]);
  for (const [table, [from, to]] of Object.entries(INDEXES))
    await db.raw('ALTER TABLE ?? RENAME INDEX ?? TO ??', [table, from, to]);
  await renameRemovedStems(db);
}

/** Stems that were removed and can still be given back have the names of before in them; no other of these tables is removed from. */
async function renameRemovedStems(db: Knex): Promise<void> {
  const columns = new Map(COLUMNS['stems']);
  for (const { id, row } of await db('removed_rows').where({ from: 'stems' }).select('id', 'row')) {
    const renamed = Object.entries(fromJson(row)).map(([column, value]) => [columns.get(column) ?? column, value]);
    await db('removed_rows')
      .where({ id })
      .update({ row: toJson(Object.fromEntries(renamed)) });
  }
}
