import type { ProductionWords } from '@old-echo/core/contracts/production';

import type { Database } from '../database/connect';
import { inTransaction } from '../database/transaction';
import { abandonedJobs, makingOf, noteMaking } from '../jobs/job-store';
import { removeScenes } from './delete-scenes';
import { addProduction, deleteProduction, profileOfProduction } from './production-store';

/**
 * Begins a song or show that a job makes piece by piece: nobody sees it before {@link showMade}. Its desk is not held meanwhile, as it
 * would be by a transaction that adds something to it.
 */
export async function beginProduction(
  db: Database,
  jobId: string,
  production: ProductionWords & { readonly id: string },
): Promise<void> {
  await noteMaking(db, jobId, production.id);
  await inTransaction(db, async (tx) => {
    await addProduction(tx, production);
    await tx('productions').where({ id: production.id }).update({ binned_at: new Date() });
  });
}

/** Shows what a job has made, inside the transaction that writes the last of it. */
export async function showMade(tx: Database, jobId: string, id: string): Promise<void> {
  await tx('productions').where({ id }).update({ binned_at: null });
  await noteMaking(tx, jobId, null);
}

/** Removes what a job had begun to make and did not end. */
export async function dropMaking(db: Database, jobId: string): Promise<void> {
  const id = await makingOf(db, jobId);
  if (id === null) return;
  if (await db('productions').where({ id }).first('id')) {
    const scenes = await db('scenes').where({ production_id: id }).pluck('id');
    await removeScenes(db, await profileOfProduction(db, id), scenes);
    await inTransaction(db, (tx) => deleteProduction(tx, id));
  }
  await noteMaking(db, jobId, null);
}

/** Removes what jobs left that nobody is at work on any more. */
export async function sweepMaking(db: Database): Promise<void> {
  for (const jobId of await abandonedJobs(db)) await dropMaking(db, jobId);
}
