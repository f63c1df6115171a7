import type { Database } from '../database/connect';
import type { Live } from '../live/live-channel';
import type { DeskSession } from '../desk/desk-mirror';
import type { AtWork } from '../jobs/background-tasks';
import type { Controls } from './cancel-requests';

/** What a restore works with. */
export interface RunnerTools {
  readonly db: Database;
  readonly live: Live;
  readonly session: DeskSession;
  readonly atWork: AtWork;
  readonly controls: Controls;
  /** How long a restore may hold the desk without a sign of life, in ms. */
  readonly lease: number;
}
