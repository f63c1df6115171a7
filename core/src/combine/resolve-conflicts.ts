import { rateAudibility } from '../compare/audibility';
import { type Profile, stripFamily } from '../desk/profile';
import type { State } from '../desk/state';
import { cellOf, type Conflict } from './merge-states';

/** Rules that settle all conflicts at once. */
export const CONFLICT_RULES = ['mine', 'theirs', 'louder', 'newer'] as const;
export type ConflictRule = (typeof CONFLICT_RULES)[number];

interface MergeSide {
  readonly scene: string;
  readonly state: State;
  /** ISO 8601. */
  readonly madeAt: string;
}

/** Which scene each conflict goes to by a rule, by cell. Where neither is louder, mine. */
export function resolveConflicts(
  profile: Profile,
  mine: MergeSide,
  theirs: MergeSide,
  conflicts: readonly Conflict[],
  rule: ConflictRule,
): Record<string, string> {
  const isLouder = (conflict: Conflict) => {
    const [a, b] = [mine.state[conflict.strip] ?? {}, theirs.state[conflict.strip] ?? {}];
    const settings = stripFamily(profile, conflict.strip)?.settings ?? {};
    return rateAudibility({ ...conflict, profile, settings, a, b, reach: () => 0, silent: () => false }).higher === 'B';
  };
  const isTheirs = (conflict: Conflict) =>
    rule === 'louder'
      ? isLouder(conflict)
      : rule === 'theirs' || (rule === 'newer' && Date.parse(theirs.madeAt) > Date.parse(mine.madeAt));
  return Object.fromEntries(
    conflicts.map((conflict) => [cellOf(conflict), isTheirs(conflict) ? theirs.scene : mine.scene]),
  );
}
