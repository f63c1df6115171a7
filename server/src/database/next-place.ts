import type { Database } from './connect';

/** The place behind the last of a table's rows, or of those within something. */
export async function nextPlace(
  tx: Database,
  table: 'desks' | 'productions' | 'versions',
  within: Readonly<Record<string, string>> = {},
): Promise<number> {
  const last = await tx(table).where(within).orderBy('place', 'desc').first('place');
  return (last?.place ?? -1) + 1;
}
