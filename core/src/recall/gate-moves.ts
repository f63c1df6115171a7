import { isManualAt } from '../desk/manual';
import type { Profile } from '../desk/profile';
import type { Value } from '../desk/setting';
import { type SettingsByAddress, type State, valueAt, withSettings } from '../desk/state';
import type { Thresholds } from '../signal/thresholds';
import type { Caution, CautionKind } from './caution';
import { openStops } from './caution-answers';
import { compileScope } from './compile-scope';
import { cautions } from './find-cautions';
import type { PlannedChange } from './planned-changes';
import { planChanges } from './preview';
import { ALL_WITH_GLOBALS, type Safes } from './scope-rules';

/** A hand that rests for this long, in ms, has ended its gesture, unless it says that it goes on. */
const GESTURE_GAP_MS = 1000;

/** Where each control of a desk stood when the hand that moves it began. */
export class MoveGestures {
  private readonly begun = new Map<
    string,
    { readonly from: Value; readonly reached: Value; readonly at: number; readonly name: string | undefined }
  >();

  /**
   * Where controls stood before the gestures that these moves belong to. A switch is a gesture of its own, and what stands lower than
   * the gesture ever was has been taken there by someone else: it counts from there.
   * @param now the desk as it is
   * @param at the moment, in ms of any clock that only goes forward
   * @param name what the hand calls its gesture, from press to release: under one name it is one, however slowly its moves arrive
   */
  before(now: State, moved: SettingsByAddress, at: number, name?: string): SettingsByAddress {
    const before: Record<string, Value> = {};
    for (const [address, reached] of Object.entries(moved)) {
      const [known, here] = [this.begun.get(address), valueAt(now, address)];
      if (here === undefined) continue;
      const goesOn =
        known !== undefined &&
        (at - known.at < GESTURE_GAP_MS || (name !== undefined && name === known.name)) &&
        typeof here === 'number' &&
        here >= Math.min(Number(known.from), Number(known.reached));
      const from = goesOn ? known.from : here;
      before[address] = from;
      this.begun.set(address, { from, reached, at, name });
    }
    return before;
  }

  /** What was looked at begins anew: what comes next counts from there. */
  end(addresses: Iterable<string>): void {
    for (const address of addresses) this.begun.delete(address);
  }
}

/** What can hurt ears or gear the moment it is done; everything else of a move is heard, and moved back, by whoever moves it. */
const HURTS: ReadonlySet<CautionKind> = new Set([
  'louder',
  'whole',
  'behind',
  'lane',
  'ringing',
  'phantom',
  'gain',
  'source',
  'global',
]);

interface Move {
  readonly profile: Profile;
  readonly now: State;
  /** Where the controls stood when their gestures began. */
  readonly before: SettingsByAddress;
  readonly moved: SettingsByAddress;
  readonly safes: Safes;
  readonly mode: 'studio' | 'live';
  readonly thresholds: Thresholds;
}

/** What keeps moves by hand on a screen from being sent. */
export interface Gated {
  /** The addresses that are safe. */
  readonly safe: readonly string[];
  /** In live mode: what has to be confirmed first. */
  readonly stops: readonly Caution[];
  readonly changes: readonly PlannedChange[];
}

/**
 * What keeps moves by hand on a screen from being sent: what is safe, and in live mode what a restore would have to be answered for
 * because it can hurt at once. Counted from where each gesture began, so that many small steps are one large one.
 * @param confirmed ids of cautions that were held for
 */
export function gateMoves(
  { profile, now, before, moved, safes, mode, thresholds }: Move,
  confirmed: readonly string[],
): Gated {
  // To say where a control stands that is turned by hand moves nothing.
  const start = withSettings(now, wiredOf(profile, before));
  const target = withSettings(now, wiredOf(profile, moved));
  const scope = ALL_WITH_GLOBALS;
  const { changes, stays } = planChanges(
    { profile, now: start, target, scope, safes, mode },
    compileScope(profile, scope, safes),
  );
  const safe = stays.filter(({ why }) => why === 'safe').map(({ address }) => address);
  if (mode === 'studio') return { safe, stops: [], changes };
  // A restore mutes what would thump on its way; a hand does not.
  const loud = { profile, before: start, after: target, scene: target, changes, stays, guarded: [], mode, thresholds };
  const hurts = cautions({ ...loud, elsewhere: false }).filter(({ kind }) => HURTS.has(kind));
  const answers = confirmed.map((id) => ({ id, way: 'checked' as const, points: [] }));
  return { safe, stops: openStops(hurts, answers, 0), changes };
}

const wiredOf = (profile: Profile, settings: SettingsByAddress): SettingsByAddress =>
  Object.fromEntries(Object.entries(settings).filter(([address]) => !isManualAt(profile, address)));
