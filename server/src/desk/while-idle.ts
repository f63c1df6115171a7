import type { Database } from '../database/connect';
import { newId } from '../database/new-id';
import { inTransaction } from '../database/transaction';
import { acquireDesk } from './desk-lease';
import { deskRow } from './desk-store';
import { assertNotShowLocked } from './show-lock';

/** Changes something about desks while nobody restores to any of them, as one whole. @throws Fault `show-lock`, `desk-busy` */
export async function whileIdle(
  db: Database,
  ids: readonly string[],
  lease: number,
  change: (tx: Database) => Promise<unknown>,
): Promise<void> {
  for (const id of ids) assertNotShowLocked(await deskRow(db, id));
  const held = [];
  try {
    // In one order for everyone, so that two of them do not wait for each other's.
    for (const id of ids.toSorted()) held.push(await acquireDesk(db, id, newId(), lease, () => Promise.resolve()));
    await inTransaction(db, change);
  } finally {
    for (const hold of held) await hold.release();
  }
}
