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

/** Keeps a mix until a moment at least, whether somebody asks for it or not. */
export const keepRender = (db: Database, id: string, until: Date): Promise<number> =>
  db('renders')
    .where({ id })
    .where((q) => q.whereNull('kept_until').orWhere('kept_until', '<', until))
    .update({ kept_until: until });

/** Mixes nobody has asked for since, by id, and that are not kept longer; their rows go. */
export async function deleteUnusedRenders(db: Database, before: Date, now: Date): Promise<string[]> {
  const ids = await db('renders')
    .where('used_at', '<', before)
    .where((q) => q.whereNull('kept_until').orWhere('kept_until', '<', now))
    .pluck('id');
  await db('renders').whereIn('id', ids).delete();
  await deleteJobs(db, ids);
  return ids;
}
