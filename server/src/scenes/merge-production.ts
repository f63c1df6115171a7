import { uniqueName } from '@old-echo/core/fault/text-shapes';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { nextPlace } from '../database/next-place';
import { deleteProduction, setNextNumbers } from './production-store';

/**
 * Joins a production to another one on the same kind of desk, inside a transaction: its versions come after those that are there, under
 * their names or with a number behind them, and its scenes get the numbers that follow. The production itself is gone afterwards.
 */
export async function mergeProduction(tx: Database, from: string, into: string): Promise<void> {
  const numbers = ['next_number', 'next_ordinal'] as const;
  const there = found(
    await tx('productions')
      .where({ id: into })
      .forUpdate()
      .first(...numbers),
  );
  const own = found(
    await tx('productions')
      .where({ id: from })
      .first(...numbers),
  );
  const taken = await tx('versions').where({ production_id: into }).pluck('name');
  let place = await nextPlace(tx, 'versions', { production_id: into });
  for (const { id, name } of await tx('versions')
    .where({ production_id: from })
    .orderBy('place')
    .select('id', 'name')) {
    const called = uniqueName(name, taken);
    taken.push(called);
    await tx('versions').where({ id }).update({ production_id: into, name: called, place: place++ });
  }
  // Both are counted from one.
  const [numbered, placed] = [there.next_number - 1, there.next_ordinal - 1];
  await tx('scenes')
    .where({ production_id: from })
    .update({
      production_id: into,
      number: tx.raw('number + ?', [numbered]),
      ordinal: tx.raw('ordinal + ?', [placed]),
    });
  await setNextNumbers(tx, into, numbered + own.next_number, placed + own.next_ordinal);
  await deleteProduction(tx, from);
}
