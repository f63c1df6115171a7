import type { Profile } from '../desk/profile';
import type { State } from '../desk/state';
import type { PlannedChange, Preview } from './planned-changes';
import type { Stage } from './restore-order';
import type { Safes } from './scope-rules';

/** What is sent at one time, and confirmed before anything else is. */
export interface Step {
  readonly stage: Stage;
  readonly changes: readonly PlannedChange[];
  /** Seconds over which its settings move; 0 where they are sent at once. */
  readonly over: number;
}

export interface StepsInput {
  readonly profile: Profile;
  /** The desk as it is. */
  readonly now: State;
  readonly plan: Pick<Preview, 'changes' | 'guarded'>;
  readonly safes: Safes;
  /** Seconds over which levels move; 0 for a restore at once. */
  readonly fade: number;
}
