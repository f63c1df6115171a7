import type { Database } from '../database/connect';
import type { LiveChannel } from '../live/live-channel';
import type { DeskMirror } from '../desk/desk-mirror';
import type { BackgroundTasks } from '../jobs/background-tasks';
import type { CancelRequests } from './cancel-requests';

/** What a restore works with. */
export interface RunnerTools {
  readonly db: Database;
  readonly live: LiveChannel;
  readonly session: DeskMirror;
  readonly atWork: BackgroundTasks;
  readonly controls: CancelRequests;
  /** How long a restore may hold the desk without a sign of life, in ms. */
  readonly lease: number;
}
