import type { Knex } from 'knex';

/** How many rows a query finds. */
export async function countRows(query: Knex.QueryBuilder): Promise<number> {
  const [row] = await query.count<{ n: number }[]>({ n: '*' });
  return row?.n ?? 0;
}
