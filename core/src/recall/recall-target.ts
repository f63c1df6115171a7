import { sectionOf } from '../desk/address';
import { movedByLane } from '../desk/lane';
import { type Profile, stripFamily } from '../desk/profile';
import { isNumberSpec, quantise, sameValue, type Value } from '../desk/setting';
import { type SettingsByAddress, type State, withSettings } from '../desk/state';
import type { Preview } from './planned-changes';
import type { Scope } from './scope-rules';

/** One strip of a scene put onto others. */
export interface StripMapping {
  readonly from: string;
  readonly to: readonly string[];
}

/** What a restore was going to do: changes in order, strips muted on the way, and levels that only move aside and back. */
export type Journal = Pick<Preview, 'changes' | 'guarded'> & { readonly aside?: SettingsByAddress };

/** What a recall asks for, as far as it decides what the desk is to hold. */
interface TargetRequest {
  readonly stagedSettingsId?: string | undefined;
  readonly resume?: { readonly restoreId: string; readonly how: 'finish' | 'roll back' } | undefined;
  readonly baseline?: boolean | undefined;
  readonly onto: readonly StripMapping[];
  readonly withPatch: boolean;
  readonly relativeTo: string | null;
}

/** What a recall is made from. */
export interface RecallInputs {
  /** The scene it names. */
  readonly scene?: State | undefined;
  /** The scene it is relative to. */
  readonly base?: State | undefined;
  /** What was put together for the desk. */
  readonly stagedSettings?: { readonly settings: SettingsByAddress; readonly gainFromOtherSource: boolean } | undefined;
  /** Of the restore it resumes. */
  readonly journal?: Journal | undefined;
  /** What the desk is meant to hold. */
  readonly baseline?: State | undefined;
}

/**
 * What a recall names, before scope and safes: a partial state, which lacks all that it is not about. Undefined while
 * something it is made from is missing.
 */
export function recallTarget(
  profile: Profile,
  now: State,
  recall: TargetRequest,
  { scene, base, stagedSettings, journal, baseline }: RecallInputs,
): State | undefined {
  const { stagedSettingsId, resume, onto, withPatch, relativeTo } = recall;
  if (stagedSettingsId) return stagedSettings && withSettings({}, stagedSettings.settings);
  if (resume) return journal && withSettings({}, journalEndState(journal, resume.how));
  if (recall.baseline) return baseline;
  if (!scene || (relativeTo !== null && !base)) return undefined;
  const target = base ? applyDifference(profile, now, base, scene) : scene;
  return onto.length > 0 ? mapStrips(target, onto, withPatch) : target;
}

/** All that a recall could choose: a difference, and the rest of a restore, are cut out of more than their target holds. */
export const choosable = (
  { resume, relativeTo }: Pick<TargetRequest, 'resume' | 'relativeTo'>,
  now: State,
  target: State,
  { scene = target }: RecallInputs,
): State => (resume ? now : relativeTo === null ? target : scene);

/** What a recall asks for, wherever the desk stands: a difference names two scenes, of which the base is named in it as well. */
export const askedBy = (
  { relativeTo }: Pick<TargetRequest, 'relativeTo'>,
  target: State,
  { scene = target }: RecallInputs,
): State => (relativeTo === null ? target : scene);

/** Whether gains of a recall were set for another source than the one they come to. */
export const hasGainFromOtherSource = (
  { onto }: Pick<TargetRequest, 'onto'>,
  { stagedSettings }: RecallInputs,
): boolean => onto.length > 0 || stagedSettings?.gainFromOtherSource === true;

/** The values at the end of a restore, or from before it; strips it muted are open in both. */
export function journalEndState({ changes, guarded, aside }: Journal, how: 'finish' | 'roll back'): SettingsByAddress {
  const ends: Record<string, Value> = { ...aside };
  for (const strip of guarded) ends[`${strip}/mute/on`] = false;
  for (const { address, from, to } of changes) ends[address] = how === 'finish' ? to : from;
  return ends;
}

/** Where a strip's signal comes from and goes to on the desk: it stays when settings move to another strip. */
export const isPatch = (key: string): boolean => sectionOf(key) === 'source' || key === 'routing/output';

/**
 * Strips of a scene put onto other strips, and nothing else of the scene. Source and patch come along only
 * when asked for. Settings that a target does not have are kept in the result, so that a preview can say they stay behind.
 */
function mapStrips(scene: State, onto: readonly StripMapping[], withPatch: boolean): State {
  const settings: Record<string, Value> = {};
  for (const { from, to } of onto)
    for (const [key, value] of Object.entries(scene[from] ?? {}))
      if (withPatch || !isPatch(key)) for (const strip of to) settings[`${strip}/${key}`] = value;
  return withSettings({}, settings);
}

/**
 * The difference between two scenes applied to what is there now, and nothing else: numbers move by as much as they did from
 * `base` to `scene`, inside their range; anything else that differs takes the scene's value. A level that is off on one of
 * the three sides knows no difference in dB: there the scene's value is taken.
 */
function applyDifference(profile: Profile, now: State, base: State, scene: State): State {
  const settings: Record<string, Value> = {};
  for (const [strip, keys] of Object.entries(scene)) {
    const family = stripFamily(profile, strip);
    if (!family || keys === base[strip]) continue;
    for (const [key, to] of Object.entries(keys)) {
      const [spec, from, at] = [family.settings[key], base[strip]?.[key], now[strip]?.[key]];
      if (!spec || from === undefined || at === undefined || sameValue(spec, from, to)) continue;
      const off = spec.kind === 'level' && [from, to, at].includes(spec.min);
      settings[`${strip}/${key}`] =
        isNumberSpec(spec) && !off ? quantise(spec, Number(at) + Number(to) - Number(from)) : to;
    }
  }
  return withSettings({}, settings);
}

/** Cells of what changed as a scope; lanes of automation one by one, since each belongs to what it moves. */
export function scopeOfChanges(changes: Iterable<{ readonly strip: string; readonly key: string }>): Scope {
  const [sections, lanes] = [new Map<string, Set<string>>(), new Map<string, Set<string>>()];
  const add = (to: Map<string, Set<string>>, name: string, strip: string) =>
    to.set(name, (to.get(name) ?? new Set()).add(strip));
  for (const { strip, key } of changes)
    if (movedByLane(key) === undefined) add(sections, sectionOf(key), strip);
    else add(lanes, key, strip);
  return [
    ...[...sections].map(([section, strips]) => ({ strips: [...strips], sections: [section], include: true })),
    ...[...lanes].map(([lane, strips]) => ({
      strips: [...strips],
      sections: [sectionOf(lane)],
      settings: [lane],
      include: true,
    })),
  ];
}
