import type { BlindTestView, NewBlindTest } from '@old-echo/core/contracts/sound';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { newId } from '../database/new-id';

/** The blind tests of two sides, whichever of them was A, the newest first. */
export async function blindTests(db: Database, a: string, b: string): Promise<BlindTestView[]> {
  const rows = await db('blind_tests')
    .where({ a, b })
    .orWhere({ a: b, b: a })
    .orderBy([{ column: 'made_at', order: 'desc' }, 'id']);
  return rows.map(({ id, listening_label, answers, made_at }) => {
    const trials = answers.split(' ');
    return {
      id,
      heard: listening_label,
      right: trials.filter(([hidden, said]) => hidden === said).length,
      trials: trials.length,
      madeAt: made_at.toISOString(),
    };
  });
}

/** @throws Fault `not-found` for a production that is gone */
export async function saveBlindTest(db: Database, { productionId, a, b, heard, trials }: NewBlindTest): Promise<void> {
  if (!(await db('productions').where({ id: productionId }).first('id')))
    throw new Fault('not-found', 'This song or show no longer exists.', 'The result was not saved.');
  await db('blind_tests').insert({
    id: newId(),
    production_id: productionId,
    a,
    b,
    listening_label: heard,
    answers: trials.map(({ hidden, said }) => hidden + said).join(' '),
    made_at: new Date(),
  });
}
