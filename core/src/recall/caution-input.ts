import type { Profile } from '../desk/profile';
import type { State } from '../desk/state';
import type { Thresholds } from '../signal/thresholds';
import type { PlannedChange, SkippedChange } from './planned-changes';

/** What cautions are looked for in. */
export interface CautionInput {
  readonly profile: Profile;
  readonly before: State;
  /** The desk as the restore leaves it. */
  readonly after: State;
  /** What comes back, as it was captured: the effects its sends were made for. */
  readonly scene: State;
  readonly changes: readonly PlannedChange[];
  readonly stays: readonly SkippedChange[];
  /** Strips that are muted while they are changed. */
  readonly guarded: readonly string[];
  readonly mode: 'studio' | 'live';
  /** True if preamp gains were set for a different source than the one patched. */
  readonly elsewhere: boolean;
  readonly thresholds: Thresholds;
}
