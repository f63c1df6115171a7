import { diffStrip, type SettingChange } from '../desk/diff-states';
import type { Profile } from '../desk/profile';
import type { Value } from '../desk/setting';
import type { State, StripState } from '../desk/state';

/** A cell that two lines of work changed to unlike values. */
export interface Conflict {
  readonly strip: string;
  readonly section: string;
  /** What is not the same in both, of the parts that both changed: `was` is mine, `now` is theirs. */
  readonly changes: readonly SettingChange[];
}

interface MergeResult {
  /** Both lines together; where they are at odds, mine. */
  readonly state: State;
  /** The cells in which something of theirs was taken: `in.7/eq`. */
  readonly taken: readonly string[];
  readonly conflicts: readonly Conflict[];
}

/** Sections whose parts have nothing to do with one another: each send, route, lane and name is on its own. */
const INDEPENDENT_SECTIONS: ReadonlySet<string> = new Set(['sends', 'routing', 'automation', 'label', 'view']);

/** The part of a strip that is taken whole: `sends/fx.1`, `eq`. */
function mergeUnit({ section, key }: SettingChange): string {
  if (!INDEPENDENT_SECTIONS.has(section)) return section;
  const [, of = ''] = key.split('/');
  return section === 'automation' ? key : `${section}/${of}`;
}

export const cellOf = ({ strip, section }: { readonly strip: string; readonly section: string }): string =>
  `${strip}/${section}`;

/**
 * Two lines of work from their common parent: what only one of them changed is taken, what both changed alike as well; what
 * they changed to unlike values is a conflict. Decided for whole sections, since half an EQ of each would be nobody's; sends,
 * routes and lanes one by one. A strip that one line removed comes back where the other changed it.
 */
export function mergeStates(profile: Profile, parent: State, mine: State, theirs: State): MergeResult {
  const state: Record<string, StripState> = {};
  const taken: string[] = [];
  const conflicts: Conflict[] = [];
  for (const strip of profile.strips) {
    const [before, own, other] = [parent[strip], mine[strip], theirs[strip]];
    if (!own || !other) {
      const kept = mergeOneSided(profile, strip, before, own ?? other);
      if (kept) state[strip] = kept;
      continue;
    }
    state[strip] = own;
    if (own === other || before === other) continue;
    const come = byMergeUnit(diffStrip(profile, strip, before ?? own, other));
    if (come.size === 0) continue;
    // A strip added on both sides conflicts wherever the two differ.
    const gone = before ? byMergeUnit(diffStrip(profile, strip, before, own)) : come;
    const settings: Record<string, Value> = {};
    const [cells, odds] = [new Set<string>(), new Map<string, SettingChange[]>()];
    for (const [part, changes] of come) {
      const section = changes[0]?.section ?? '';
      if (!gone.has(part)) {
        for (const { key, now } of changes) settings[key] = now;
        cells.add(cellOf({ strip, section }));
        continue;
      }
      const keys = new Set([...changes, ...(gone.get(part) ?? [])].map(({ key }) => key));
      const apart = diffStrip(profile, strip, own, other).filter(({ key }) => keys.has(key));
      if (apart.length > 0) odds.set(section, [...(odds.get(section) ?? []), ...apart]);
    }
    if (cells.size > 0) state[strip] = { ...own, ...settings };
    taken.push(...cells);
    for (const [section, changes] of odds) conflicts.push({ strip, section, changes });
  }
  return { state, taken, conflicts };
}

/** A strip that only one side has: gone where that side left it as it was, kept where it is new or was changed. */
function mergeOneSided(
  profile: Profile,
  strip: string,
  before: StripState | undefined,
  left: StripState | undefined,
): StripState | undefined {
  return left && before && diffStrip(profile, strip, before, left).length === 0 ? undefined : left;
}

function byMergeUnit(changes: readonly SettingChange[]): Map<string, SettingChange[]> {
  const parts = new Map<string, SettingChange[]>();
  for (const change of changes) {
    const part = mergeUnit(change);
    const known = parts.get(part);
    if (known) known.push(change);
    else parts.set(part, [change]);
  }
  return parts;
}
