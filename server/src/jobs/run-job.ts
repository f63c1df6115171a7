import type { Logger } from 'pino';

import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { diskFullFault, isDiskFull } from '../database/disk-room';
import { untilWritten } from '../database/until-written';
import type { BackgroundTasks } from './background-tasks';
import { beat, endJob, reportProgress } from './job-store';

/** What runs a job. */
export interface JobTools {
  readonly db: Database;
  readonly tasks: BackgroundTasks;
  readonly log: Logger;
}

/** Says how far a job is. @throws JobCancelled where somebody has asked for that */
export type ReportProgress = (done: number, total: number) => Promise<void>;

/** Ends a job that was asked to end. */
export class JobCancelled extends Error {}

/** A job shows a sign of life this often, in ms, however long one step of it takes. */
const BEAT_MS = 4000;

/**
 * Does the work of a job that was claimed, while the server goes on: a heartbeat as long as it runs, and an end that is written
 * whatever happens. The work itself sees to it that nothing of it stays where it throws.
 * @param work returns what there is to add to its end, which may be nothing
 * @param failed the sentence for what nobody foresaw
 */
export function runJob(
  { db, tasks, log }: JobTools,
  id: string,
  failed: string,
  work: (report: ReportProgress) => Promise<string | void>,
): void {
  const heart = setInterval(() => void beat(db, id).catch(() => undefined), BEAT_MS);
  const report: ReportProgress = async (done, total) => {
    if (await reportProgress(db, id, done, total)) throw new JobCancelled();
  };
  tasks.add(
    work(report)
      .then((note) => untilWritten(() => endJob(db, id, 'done', note ?? '')))
      .catch(async (error: unknown) => {
        const cancelled = error instanceof JobCancelled;
        const fault = error instanceof Fault ? error : isDiskFull(error) ? diskFullFault() : undefined;
        if (!cancelled && !fault) log.error(error, failed);
        const why = cancelled ? '' : fault ? `${fault.message} ${fault.advice}` : failed;
        await untilWritten(() => endJob(db, id, cancelled ? 'cancelled' : 'failed', why));
      })
      .finally(() => clearInterval(heart)),
  );
}
