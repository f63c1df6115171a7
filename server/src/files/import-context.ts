import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';

/** How far it is; throws where someone has asked to cancel. */
export type ReportProgress = (done: number, total: number) => Promise<void>;

export interface Tools {
  readonly db: Database;
  readonly files: FileStore;
  readonly beat: ReportProgress;
}

export interface BroughtIn {
  readonly href: string;
  /** What else became of it, in sentences; empty where nothing else did. */
  readonly note: string;
}
