import type { RenderView } from '@old-echo/core/contracts/sound';
import { Fault } from '@old-echo/core/fault/fault';
import type { RenderMeasurements } from '@old-echo/core/sound/analyse-render';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import { deleteJobs, jobWithResult } from '../jobs/job-store';

/** @throws Fault `not-found` */
export async function renderView(db: Database, id: string): Promise<RenderView> {
  const [job, row] = await jobWithResult(db, id, 'Old Echo stopped during it.', () =>
    db('renders').where({ id }).first(),
  );
  if (!row || !job) throw new Fault('not-found', 'This mix no longer exists.', 'Start it again.');
  const measured = row.measurements === null ? null : fromJson(row.measurements);
  return { ...job, id, measured };
}

/** Notes that a mix was asked for, so that it is kept. */
export const touchRender = (db: Database, id: string): Promise<unknown> =>
  db('renders').insert({ id, used_at: new Date() }).onConflict('id').merge(['used_at']);

export const saveMeasurements = (db: Database, id: string, measured: RenderMeasurements | undefined): Promise<number> =>
  db('renders')
    .where({ id })
    .update({ measurements: measured ? toJson(measured) : null });

/** Mixes nobody has asked for since, by id; their rows go. */
export async function deleteUnusedRenders(db: Database, before: Date): Promise<string[]> {
  const ids = await db('renders').where('used_at', '<', before).pluck('id');
  await db('renders').whereIn('id', ids).delete();
  await deleteJobs(db, ids);
  return ids;
}
