import type { Removal } from '@old-echo/core/contracts/removal';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import { inTransaction } from '../database/transaction';

/** What one touch removes, and one more gives back. Scenes and what holds them go to the bin instead. */
type Removable = 'venues' | 'outboard' | 'saved_scopes' | 'stems' | 'mix_notes';

type Row = Readonly<Record<string, unknown>>;

/** How long it can be given back, in ms. */
const KEPT = 24 * 60 * 60 * 1000;

/**
 * Takes one row out of its table, to be given back while anyone may still think better of it.
 * @throws Fault `not-found` where it is gone already
 */
export async function removeRow(db: Database, from: Removable, where: Row): Promise<Removal> {
  const id = newId();
  await db('removed_rows')
    .where('removed_at', '<', new Date(new Date().getTime() - KEPT))
    .delete();
  await inTransaction(db, async (tx) => {
    const row = await tx<Row>(from).where(where).forUpdate().first();
    if (!row) throw new Fault('not-found', 'This is already gone.', 'Someone else removed it.');
    await tx('removed_rows').insert({ id, from, row: toJson(row), removed_at: new Date() });
    await tx<Row>(from).where(where).delete();
  });
  return { removal: id };
}

/** Puts a row back where it was, as it was. @throws Fault `not-found`, `conflict` where something has its place by now */
export async function undoRemoval(db: Database, id: string): Promise<void> {
  await inTransaction(db, async (tx) => {
    const kept = await tx('removed_rows').where({ id }).forUpdate().first();
    if (!kept)
      throw new Fault('not-found', 'This was already restored, or is gone for good.', 'Look at the list once more.');
    await tx('removed_rows').where({ id }).delete();
    await tx<Row>(kept.from)
      .insert(asColumns(fromJson(kept.row)))
      .catch(placeTaken);
  });
}

/** The rows of a table that can still be given back. */
export const removedRowsOf = async (db: Database, from: Removable): Promise<Row[]> =>
  (await db('removed_rows').where({ from }).select('row')).map(({ row }) => fromJson(row));

/** A row as the database takes it: moments are text in JSON, and JSON of its own is to be text. */
const asColumns = (row: Row): Row =>
  Object.fromEntries(
    Object.entries(row).map(([column, value]) => {
      if (column.endsWith('_at') && typeof value === 'string') return [column, new Date(value)];
      return [column, typeof value === 'object' && value !== null ? toJson(value) : value];
    }),
  );

function placeTaken(error: unknown): never {
  const code = error instanceof Error && 'code' in error ? error.code : undefined;
  if (code === 'ER_DUP_ENTRY')
    throw new Fault('conflict', 'Something else has its place now.', 'Rename or remove that, then undo again.');
  if (code === 'ER_NO_REFERENCED_ROW_2')
    throw new Fault('conflict', 'What it belonged to was deleted for good.', 'It cannot be undone.');
  throw error;
}
