import type { JobStatus, JobView } from '@old-echo/core/contracts/job';

import type { Database } from '../database/connect';
import type { JobRow } from '../database/tables';
import { signsOfLife } from './silence';

function isSilent({ status, heartbeat_at }: JobRow): boolean {
  const [from, until] = signsOfLife();
  return status === 'running' && (heartbeat_at < from || heartbeat_at > until);
}

/**
 * How far a job is, or undefined where there never was one. One that nobody works on any more has failed.
 * @param stopped what is to be said of that
 */
async function findJob(db: Database, id: string, stopped: string): Promise<JobView | undefined> {
  const row = await db('jobs').where({ id }).first();
  if (!row) return undefined;
  const { status, done, total, error } = row;
  if (isSilent(row)) return { status: 'failed', done, total, why: stopped };
  return { status, done, total, why: error };
}

/**
 * A job, or undefined where there never was one, and what it made. The job is read before that: it ends after all that it makes
 * is written, so that one that reads as done has it. And what made all of it is done, also where it was stopped before it could say
 * so.
 * @param isWhole whether what was read is all that the job makes
 */
export async function jobWithResult<Made>(
  db: Database,
  id: string,
  stopped: string,
  readMade: () => PromiseLike<Made>,
  isWhole: (made: Made) => boolean = () => false,
): Promise<readonly [JobView | undefined, Made]> {
  const job = await findJob(db, id, stopped);
  const made = await readMade();
  // One that is still at work has the last of it to say.
  if (job?.status === 'failed' && job.why === stopped && isWhole(made))
    return [{ ...job, status: 'done', done: job.total, why: '' }, made];
  return [job, made];
}

/** Takes a job on, unless someone is at work on it. @param again whether one that is done is done again */
export async function claimJob(db: Database, id: string, total: number, again = true): Promise<boolean> {
  const fresh = { status: 'running', done: 0, total, error: '', cancel_requested: false } as const;
  await db('jobs')
    .insert({ id, ...fresh, status: 'cancelled', heartbeat_at: new Date() })
    .onConflict('id')
    .ignore();
  const ended: readonly JobStatus[] = again ? ['failed', 'cancelled', 'done'] : ['failed', 'cancelled'];
  const taken = await db('jobs')
    .where({ id })
    .where((free) => {
      void free
        .whereIn('status', ended)
        .orWhere((left) => left.where({ status: 'running' }).whereNotBetween('heartbeat_at', signsOfLife()));
    })
    .update({ ...fresh, heartbeat_at: new Date() });
  return taken > 0;
}

/** Notes how far a job is; returns whether someone has asked to cancel it. */
export async function reportProgress(db: Database, id: string, done: number, total: number): Promise<boolean> {
  await db('jobs').where({ id }).update({ done, total, heartbeat_at: new Date() });
  const row = await db('jobs').where({ id }).first('cancel_requested');
  return row?.cancel_requested === 1;
}

export const beat = (db: Database, id: string): Promise<number> =>
  db('jobs').where({ id, status: 'running' }).update({ heartbeat_at: new Date() });

export const endJob = (db: Database, id: string, status: Exclude<JobStatus, 'running'>, error = ''): Promise<number> =>
  db('jobs')
    .where({ id })
    .update({
      status,
      error: error.slice(0, 1000),
      heartbeat_at: new Date(),
      ...(status === 'done' ? { done: db.ref('total') } : {}),
    });

/** The status of each of some jobs that there are. */
export const jobStatuses = async (db: Database, ids: readonly string[]): Promise<ReadonlyMap<string, JobStatus>> => {
  const rows = await db('jobs').whereIn('id', ids);
  return new Map(rows.map((row) => [row.id, isSilent(row) ? 'failed' : row.status]));
};

export const deleteJobs = (db: Database, ids: readonly string[]): Promise<number> =>
  db('jobs').whereIn('id', ids).delete();

/** Writes down what a job is making, before anything of it is there; null when it is there whole, or gone. */
export const noteMaking = (db: Database, id: string, makingId: string | null): Promise<unknown> =>
  db('jobs').where({ id }).update({ making_id: makingId }).then();

/** What a job is making. */
export const makingOf = async (db: Database, id: string): Promise<string | null> =>
  (await db('jobs').where({ id }).first('making_id'))?.making_id ?? null;

/** Jobs that are making something and on which nobody is at work any more. */
export const abandonedJobs = (db: Database): Promise<string[]> =>
  db('jobs')
    .whereNotNull('making_id')
    .where((left) => left.whereNot('status', 'running').orWhereNotBetween('heartbeat_at', signsOfLife()))
    .pluck('id')
    .then();

export const requestCancel = (db: Database, id: string): Promise<number> =>
  db('jobs').where({ id, status: 'running' }).update({ cancel_requested: true });
