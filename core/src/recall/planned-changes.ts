import type { Value } from '../desk/setting';
import type { Caution } from './caution';
import type { SkipReason } from './compile-scope';
import type { Stage } from './restore-order';

/** One setting that a restore will send. */
export interface PlannedChange {
  readonly address: string;
  readonly strip: string;
  readonly section: string;
  readonly key: string;
  readonly from: Value;
  readonly to: Value;
  readonly stage: Stage;
}

/** One setting that differs from the scene and is left where it is. */
export interface SkippedChange {
  readonly address: string;
  readonly strip: string;
  readonly section: string;
  readonly key: string;
  /** Undefined where this desk does not have the setting. */
  readonly now: Value | undefined;
  readonly scene: Value;
  readonly why: SkipReason;
}

export interface Preview {
  /** In the order in which they are sent. */
  readonly changes: readonly PlannedChange[];
  readonly stays: readonly SkippedChange[];
  /** Open strips that are muted while they are changed, then opened again. */
  readonly guarded: readonly string[];
  readonly cautions: readonly Caution[];
  /**
   * Of what was asked for and what rules it: a restore is refused when that is no longer the same. Where the desk stands is not
   * in it, since hands may ride on while one looks.
   */
  readonly fingerprint: string;
}
