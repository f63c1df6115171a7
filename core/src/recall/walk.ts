import { isManual } from '../desk/manual';
import { type Profile, specOf } from '../desk/profile';
import { muteChange } from './closed-ways';
import type { PlannedChange } from './planned-changes';
import type { Journal } from './recall-target';

/** What a person says of a setting in a walk. */
export const WALK_MARKS = ['set', 'could not'] as const;
export type WalkMark = (typeof WALK_MARKS)[number];

/** What was said so far, by the ids of the settings of the walk. */
export type WalkMarks = Readonly<Record<string, WalkMark>>;

/** The rounds of a walk: first all that closes or falls, then everything else strip by strip, at the end all that opens. */
export const WALK_ROUNDS = ['close', 'set', 'open'] as const;
type WalkRound = (typeof WALK_ROUNDS)[number];

/** One setting on the way. A mute that is closed first and opened at the end comes twice, each with an id of its own. */
export interface WalkItem {
  readonly id: string;
  readonly change: PlannedChange;
}

/** One strip in one round. */
export interface WalkStop {
  readonly round: WalkRound;
  readonly strip: string;
  readonly items: readonly WalkItem[];
}

/** What of a restore is set by hand, stop by stop. No level rises before all that fall have fallen, and nothing opens before the end. */
export function walkStops(profile: Profile, { changes, guarded }: Pick<Journal, 'changes' | 'guarded'>): WalkStop[] {
  const closed = guarded.map((strip) => muteChange(strip, true, 'guard'));
  const opened = guarded.map((strip) => muteChange(strip, false, 'release'));
  // A model that was changed since may not have all of it any more.
  const own = [...closed, ...changes, ...opened].filter(
    ({ strip, address }) => isManual(profile, strip) && specOf(profile, address),
  );
  return WALK_ROUNDS.flatMap((round) => {
    const here = own.filter((change) => roundOf(change) === round);
    return profile.strips.flatMap((strip): WalkStop[] => {
      const items = here
        .filter((change) => change.strip === strip)
        .map((change) => ({ id: `${round}/${change.address}`, change }));
      return items.length > 0 ? [{ round, strip, items }] : [];
    });
  });
}

function roundOf({ stage, from, to }: PlannedChange): WalkRound {
  if (stage === 'guard') return 'close';
  if (stage === 'release') return 'open';
  const falls = stage === 'level' && typeof from === 'number' && typeof to === 'number' && to < from;
  return falls ? 'close' : 'set';
}

/** What was said so far, with more; null takes back. */
export const withMarks = (marks: WalkMarks, more: Readonly<Record<string, WalkMark | null>>): WalkMarks =>
  Object.fromEntries(Object.entries({ ...marks, ...more }).flatMap(([id, mark]) => (mark ? [[id, mark]] : [])));

/** Where a walk goes on after a break: its first stop with something that nobody has said anything of; undefined where there is none. */
export const nextOpenStop = (stops: readonly WalkStop[], marks: WalkMarks): WalkStop | undefined =>
  stops.find(({ items }) => items.some(({ id }) => marks[id] === undefined));
