import type { Knex } from 'knex';

import { asciiColumn, timestampColumn } from '../column-types';
import { fromJson, toJson } from '../json-column';

/** Tables that go by another word. */
const TABLES: readonly (readonly [from: string, to: string])[] = [
  ['halls', 'venues'],
  ['wishes', 'mix_notes'],
  ['pins', 'scenes_at_hand'],
  ['scopes', 'saved_scopes'],
  ['placements', 'staged_settings'],
  ['strip_origins', 'preset_origins'],
  ['matches', 'strip_matches'],
  ['carryings', 'conversions'],
  ['files', 'imports'],
  ['scene_moves', 'scene_changed_strips'],
  ['scene_origins', 'cell_origins'],
  ['taken_off', 'removed_rows'],
];

/** Columns that do, by the new name of their table. */
const COLUMNS: Readonly<Record<string, readonly (readonly [from: string, to: string])[]>> = {
  venues: [['taken_at', 'captured_at']],
  mix_notes: [
    ['at', 'song_seconds'],
    ['who', 'requested_by'],
    ['state', 'status'],
  ],
  outboard: [['knobs', 'controls']],
  staged_settings: [
    ['own_gain', 'gain_from_other_source'],
    ['marks', 'applied_presets'],
  ],
  preset_origins: [['landed', 'applied_settings']],
  strip_matches: [['hands', 'manual_matches']],
  cell_origins: [['from_id', 'source_scene_id']],
  desks: [
    ['flip_scene_id', 'swap_scene_id'],
    ['flip_scope', 'swap_scope'],
  ],
  versions: [['work', 'status']],
  removed_rows: [['taken_at', 'removed_at']],
  imports: [['href', 'result_path']],
  renders: [
    ['measured', 'measurements'],
    ['beat_at', 'used_at'],
  ],
};

/** What of a table became a job. */
const JOB_COLUMNS = ['status', 'done', 'total', 'why', 'cancel'];

const PRESET_KINDS = `'processor', 'strip', 'strip set', 'bus', 'patch', 'template'`;

/** One word for one thing in the tables too, and one table for all work that goes on after its request was answered. */
export async function up(db: Knex): Promise<void> {
  for (const [from, to] of TABLES) await db.schema.renameTable(from, to);
  await db.schema.createTable('jobs', (t) => {
    asciiColumn(t, 'id', 64).primary();
    t.enum('status', ['running', 'done', 'failed', 'cancelled']).notNullable();
    t.integer('done').notNullable();
    t.integer('total').notNullable();
    t.string('error', 1000).notNullable();
    /** By whoever, on whichever server. */
    t.boolean('cancel_requested').notNullable();
    /** The last sign of life of whoever works on it. */
    timestampColumn(t, 'heartbeat_at').notNullable();
  });
  const jobs = (table: string, heartbeat: string, where: string) =>
    db.raw(
      `INSERT INTO jobs (id, status, done, total, error, cancel_requested, heartbeat_at)
       SELECT id, status, done, total, why, cancel, ?? FROM ?? WHERE ${where}`,
      [heartbeat, table],
    );
  await jobs('conversions', 'beat_at', 'TRUE');
  await jobs('renders', 'beat_at', 'TRUE');
  // What ran when the older version was stopped runs no more.
  await db<object>('imports').where({ status: 'bringing in' }).update({ status: 'failed' });
  await jobs('imports', 'made_at', `status <> 'here'`);
  await db.schema.alterTable('conversions', (t) => t.dropColumns(...JOB_COLUMNS, 'beat_at'));
  for (const table of ['renders', 'imports']) await db.schema.alterTable(table, (t) => t.dropColumns(...JOB_COLUMNS));
  for (const [table, columns] of Object.entries(COLUMNS))
    for (const [from, to] of columns) await db.raw('ALTER TABLE ?? RENAME COLUMN ?? TO ??', [table, from, to]);
  await renameRemovedRows(db);
  await db.raw(`ALTER TABLE presets MODIFY kind ENUM('kit', ${PRESET_KINDS}) NOT NULL`);
  await db<object>('presets').where({ kind: 'kit' }).update({ kind: 'strip set' });
  await db.raw(`ALTER TABLE presets MODIFY kind ENUM(${PRESET_KINDS}) NOT NULL`);
  // JSON of our own in a column, with the words it had.
  await db.raw(`UPDATE scene_outboard SET devices = REPLACE(devices, '"knobs"', '"controls"')`);
  await db.raw(`UPDATE venues SET \`before\` = REPLACE(\`before\`, '"takenAt"', '"capturedAt"')`);
  await db.raw(`UPDATE restores SET request = REPLACE(request, '"placementId"', '"stagedSettingsId"')`);
}

/** Rows that were removed and can still be given back have the names of before in them. */
async function renameRemovedRows(db: Knex): Promise<void> {
  const rows = await db('removed_rows').select('id', 'from', 'row');
  const tables = new Map(TABLES);
  for (const { id, from, row } of rows) {
    const table = tables.get(from) ?? from;
    const columns = new Map(COLUMNS[table]);
    const old = Object.entries(fromJson(row));
    const renamed = Object.fromEntries(old.map(([column, value]) => [columns.get(column) ?? column, value]));
    await db('removed_rows')
      .where({ id })
      .update({ from: table, row: toJson(renamed) });
  }
}
