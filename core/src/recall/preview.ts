import { sectionOf } from '../desk/address';
import { fingerprint, stripFingerprints } from '../desk/fingerprint';
import { laneOfProcessor, movedByLane } from '../desk/lane';
import { type Profile, stripFamily } from '../desk/profile';
import { sameValue, validateValue } from '../desk/setting';
import { filterState, type State, type StripState, withSettings } from '../desk/state';
import { DEFAULT_THRESHOLDS, type Thresholds } from '../signal/thresholds';
import { type CompiledScope, compileScope, decisionFor, sectionsIn, type SkipReason } from './compile-scope';
import { cautions } from './find-cautions';
import type { PlannedChange, Preview, SkippedChange } from './planned-changes';
import { canThump, stageOf, STAGES } from './restore-order';
import type { Safes, Scope } from './scope-rules';

interface PreviewInput {
  readonly profile: Profile;
  readonly now: State;
  readonly target: State;
  readonly scope: Scope;
  readonly safes: Safes;
  /** In live mode what is *care* in the studio is *stop*. */
  readonly mode: 'studio' | 'live';
  readonly thresholds?: Thresholds;
  /** Strips to be muted while they are changed, although nothing of them would thump. */
  readonly muteFirst?: readonly string[];
  /** True if preamp gains were set for a different source than the one patched. */
  readonly elsewhere?: boolean;
  /** The scene itself, where the target is only made from it. */
  readonly scene?: State;
  /** All that could be chosen, where the target holds less than that. */
  readonly among?: State;
  /** What was asked for, where the target depends on where the desk stands. */
  readonly asked?: State;
}

/** What a restore would do, worked out without touching the desk. */
export function preview(input: PreviewInput): Preview {
  const { changes, stays, guarded } = planChanges(input, compileScope(input.profile, input.scope, input.safes));
  const { profile, now, target, mode, thresholds = DEFAULT_THRESHOLDS, elsewhere = false, scene = target } = input;
  const after = withSettings(now, Object.fromEntries(changes.map((change) => [change.address, change.to])));
  const found = cautions({ profile, before: now, after, scene, changes, stays, guarded, mode, thresholds, elsewhere });
  let known: string | undefined;
  return {
    changes,
    stays,
    guarded,
    cautions: found,
    // Worked out when it is asked for: a page previews many times, and sends one.
    get fingerprint() {
      return (known ??= fingerprintOf(input));
    },
  };
}

const fingerprintOf = ({
  scope,
  safes,
  mode,
  target,
  asked = target,
  thresholds = DEFAULT_THRESHOLDS,
  muteFirst = [],
}: PreviewInput): string => fingerprint({ scope, safes, mode, thresholds, muteFirst, asked: stripFingerprints(asked) });

/**
 * Why a lane that is in scope stays all the same: it belongs to what it moves, and that stays. Asked for alone, a lane comes
 * where the control, or a processor of the same kind, is there to be moved. Undefined where it comes.
 * @param among what could be chosen of the strip: what it lacks stays, whatever the scope says
 */
function whyLaneStays(
  compiled: CompiledScope,
  strip: string,
  lane: string,
  before: StripState,
  among: StripState,
): SkipReason | undefined {
  const moved = movedByLane(lane);
  if (moved === undefined) return undefined;
  if (among[moved] !== undefined && decisionFor(compiled, strip, moved) === 'comes back') return undefined;
  if (!isAskedForAlone(compiled, strip, lane, among)) return 'automation of what stays';
  return laneOfProcessor(moved) === lane && among[moved] !== before[moved] ? 'processor not there' : undefined;
}

/** Whether of a strip only automation comes back, or this lane is named by itself. */
function isAskedForAlone({ cells, settings }: CompiledScope, strip: string, lane: string, among: StripState): boolean {
  if (settings.get(`${strip}/${lane}`) === 'comes back') return true;
  const held = sectionsIn(among);
  return Object.entries(cells[strip] ?? {}).every(
    ([section, fate]) => fate !== 'comes back' || section === 'automation' || !held.has(section),
  );
}

/** What would be sent and what would stay, without what is to be cautioned about. */
export function planChanges(
  { profile, now, target, among = target, muteFirst = [] }: PreviewInput,
  compiled: CompiledScope,
): Pick<Preview, 'changes' | 'stays' | 'guarded'> {
  const changes: (PlannedChange & { place: number })[] = [];
  const stays: SkippedChange[] = [];
  const guarded: string[] = [];
  for (const strip of new Set([...profile.strips, ...Object.keys(target)])) {
    const [before, after] = [now[strip], target[strip]];
    if (!after || before === after) continue;
    const settings = stripFamily(profile, strip)?.settings;
    const first = changes.length;
    let thump = muteFirst.includes(strip);
    for (const key in after) {
      const [spec, from, to] = [settings?.[key], before?.[key], after[key]];
      if (to === undefined || from === to) continue;
      const section = sectionOf(key);
      const place = { address: `${strip}/${key}`, strip, section, key };
      const stay = (why: SkipReason) => stays.push({ ...place, now: from, scene: to, why });
      if (!spec) stay('not on this desk');
      else if (from === undefined) stay('not known');
      else if (sameValue(spec, from, to)) continue;
      else if (!validateValue(spec, to).ok) stay('not on this desk');
      else {
        const fate = decisionFor(compiled, strip, key);
        if (fate !== 'comes back') stay(fate ?? 'out of scope');
        else {
          const bound = whyLaneStays(compiled, strip, key, before ?? {}, among[strip] ?? {});
          if (bound) {
            stay(bound);
            continue;
          }
          changes.push({ ...place, from, to, ...stageOf(key, spec, from, to) });
          thump ||= canThump(key);
        }
      }
    }
    // Muting a strip for a moment touches its mute, so a safe on the mute forbids it.
    const muteHeld = decisionFor(compiled, strip, 'mute/on') === 'safe';
    const own = changes.slice(first);
    // A strip that the scene mutes is closed first anyway, and stays so.
    const mutes = own.some((change) => change.key === 'mute/on');
    if (own.length > 0 && thump && before?.['mute/on'] === false && !muteHeld && !mutes) guarded.push(strip);
  }
  const ordered = changes
    .map((change, i) => ({ change, i, stage: STAGES.indexOf(change.stage) }))
    .sort((a, b) => a.stage - b.stage || a.change.place - b.change.place || a.i - b.i)
    .map(({ change: { place: _, ...change } }) => change);
  return { changes: ordered, stays, guarded };
}

/** All that a recall chooses and this desk can hold, as it will stand: what changes, and what stands so already. */
export function chosenSettings({
  profile,
  now,
  target,
  among = target,
  scope,
  safes,
}: Pick<PreviewInput, 'profile' | 'now' | 'target' | 'among' | 'scope' | 'safes'>): State {
  const compiled = compileScope(profile, scope, safes);
  return filterState(target, (strip) => {
    const [settings, before, own] = [stripFamily(profile, strip)?.settings, now[strip], among[strip] ?? {}];
    if (!settings || !before) return () => false;
    return (key, to) => {
      const spec = settings[key];
      return (
        spec !== undefined &&
        before[key] !== undefined &&
        decisionFor(compiled, strip, key) === 'comes back' &&
        validateValue(spec, to).ok &&
        !whyLaneStays(compiled, strip, key, before, own)
      );
    };
  });
}
