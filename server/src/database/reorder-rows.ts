import type { Database } from './connect';
import { inTransaction } from './transaction';

/** Puts rows in the order of `ids`; those that are not named come behind, as they were. */
export async function reorderRows(
  db: Database,
  table: 'versions' | 'productions',
  within: Readonly<Record<string, string>>,
  ids: readonly string[],
): Promise<void> {
  await inTransaction(db, async (tx) => {
    const all = await tx(table).where(within).orderBy('place').forUpdate().pluck('id');
    const known = ids.filter((id) => all.includes(id));
    const order = [...known, ...all.filter((id) => !known.includes(id))];
    for (const [place, id] of order.entries()) await tx(table).where({ id }).update({ place });
  });
}
