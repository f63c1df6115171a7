import type { DeskMirror } from '../desk/desk-mirror';
import type { ServerContext } from '../desk/server-context';
import type { CancelRequests } from './cancel-requests';

/** What a restore works with. */
export interface RunnerTools extends Pick<ServerContext, 'db' | 'live' | 'tasks' | 'lease'> {
  readonly session: DeskMirror;
  readonly controls: CancelRequests;
  /** Whether whoever asked for it still waits for the answer, and was not told meanwhile that the database is silent. */
  readonly isAwaited: () => boolean;
}
