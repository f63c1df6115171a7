import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import type { ReportProgress } from '../jobs/run-job';

export interface Tools {
  /** The transaction that all of it belongs to. */
  readonly tx: Database;
  readonly files: FileStore;
  readonly report: ReportProgress;
}

export interface ImportResult {
  readonly resultPath: string;
  /** What else became of it, in sentences; empty where nothing else did. */
  readonly note: string;
}
