import type { Database } from '../database/connect';
import type { Live } from '../live/live';
import type { DeskSession } from '../sessions/session';
import type { AtWork } from './at-work';
import type { Controls } from './control';

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
