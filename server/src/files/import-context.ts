import type { ProductionWords } from '@old-echo/core/contracts/production';

import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import type { ReportProgress } from '../jobs/run-job';

export interface Tools {
  /** The transaction that all of it belongs to. */
  readonly tx: Database;
  readonly making: MakingTools;
  readonly files: FileStore;
  readonly report: ReportProgress;
}

/** What begins a song or show outside of the transaction, and shows it at its end. */
export interface MakingTools {
  readonly begin: (production: ProductionWords & { readonly id: string }) => Promise<void>;
  readonly show: (id: string) => Promise<void>;
}

export interface ImportResult {
  readonly resultPath: string;
  /** What else became of it, in sentences; empty where nothing else did. */
  readonly note: string;
}
