import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import type { JobTools } from '../jobs/run-job';
import type { LiveChannel } from '../live/live-channel';
import type { DeskConnections } from './desk-connections';

/** What every part of the server has at hand: with the database, the log and the work in the background of {@link JobTools}. */
export interface ServerContext extends JobTools {
  /** What the database is called. */
  readonly database: string;
  /** For what hands at a desk wait for. */
  readonly aside: Database;
  readonly desks: DeskConnections;
  readonly live: LiveChannel;
  readonly files: FileStore;
  /** How long a restore or a capture may hold its desk without a sign of life, in ms. */
  readonly lease: number;
}
