import type { RenderView } from '@old-echo/core/contracts/sound';
import { Fault } from '@old-echo/core/fault/fault';
import type { RenderMeasurements } from '@old-echo/core/sound/analyse-render';
import type { Loudness } from '@old-echo/core/sound/loudness';

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

/** How loud a mix is, where that is known. */
export async function loudnessOfRender(db: Database, id: string): Promise<Loudness | undefined> {
  const row = await db('renders').where({ id }).first('measurements');
  return row?.measurements ? fromJson(row.measurements).loudness : undefined;
}

/** Keeps a mix until a moment at least, whether somebody asks for it or not. */
export const keepRender = (db: Database, id: string, until: Date): Promise<number> =>
  db('renders')
    .where({ id })
    .where((q) => q.whereNull('kept_until').orWhere('kept_until', '<', until))
    .update({ kept_until: until });

/** Mixes that nobody has asked for since a moment and that are not kept longer, by id, the longest unasked for first. */
export const rendersThatMayGo = (db: Database, since: Date, now: Date): Promise<string[]> =>
  db('renders')
    .where('used_at', '<', since)
    .where((q) => q.whereNull('kept_until').orWhere('kept_until', '<', now))
    .orderBy('used_at')
    .pluck('id')
    .then();

export async function deleteRenders(db: Database, ids: readonly string[]): Promise<void> {
  await db('renders').whereIn('id', ids).delete();
  await deleteJobs(db, ids);
}
