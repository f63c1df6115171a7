import { type Profile, stripFamily } from '../desk/profile';
import { sameValue, type Value } from '../desk/setting';
import { filterState, type State } from '../desk/state';
import { type Baseline, type BaselineSource, givenBack, type Replaced, restoredOver } from '../scenes/baseline';

/** A restore that has ended in any way but a roll back. */
export interface EndedRestore {
  /** All that was chosen, as it was to stand. */
  readonly chosen: State;
  /** The addresses of what was not read back as it was sent. */
  readonly unconfirmed: readonly string[];
  /** What was restored. */
  readonly source: BaselineSource;
  /** Whether it led back to the baseline itself. */
  readonly toBaseline: boolean;
  /** What the restore that it takes back had replaced of the baseline. */
  readonly takesBack?: Replaced | undefined;
  /** All that the restore chose that it finishes. */
  readonly finishes?: State | undefined;
}

/**
 * What the desk is meant to hold after a restore: what was chosen and confirmed, over what it was meant to hold before; after a
 * way back or a roll back of another restore, what it was meant to hold before that.
 * @param state the desk as it stands at the end
 * @returns undefined where the baseline stays as it is
 */
export function baselineAfterRestore(
  profile: Profile,
  state: State,
  before: Baseline | undefined,
  { chosen, unconfirmed, source, toBaseline, takesBack, finishes }: EndedRestore,
): Baseline | undefined {
  const failed = new Set(unconfirmed);
  const confirmed = (of: State): State =>
    failed.size === 0 ? of : filterState(of, (strip) => (key) => !failed.has(`${strip}/${key}`));
  if (takesBack && before) return givenBack(before, takesBack, confirmed(chosen));
  if (toBaseline) return undefined;
  // What stood already when the first of several began counts as well: it is looked for on the desk.
  const stands = (strip: string) => (key: string, value: Value) => {
    const spec = stripFamily(profile, strip)?.settings[key];
    return spec !== undefined && sameValue(spec, value, state[strip]?.[key]);
  };
  return restoredOver(before, source, finishes ? filterState(confirmed(finishes), stands) : confirmed(chosen));
}
