import { diffStates } from '../desk/diff-states';
import { stripFingerprint } from '../desk/fingerprint';
import type { Profile } from '../desk/profile';
import type { Value } from '../desk/setting';
import { displayName, type State, type StripState } from '../desk/state';

/** A strip state that differs from its base in more settings than this is stored whole. */
const MAX_DELTA_SETTINGS = 24;

/** A strip of the scene before: its settings, and the whole state in the store that a new one can be told from. */
export interface StripBefore {
  readonly settings: StripState;
  readonly base: { readonly id: number; readonly settings: StripState };
}

/** A strip state as it is to be stored: all its settings, or those that differ from its base. */
export interface EncodedStrip {
  readonly fingerprint: string;
  /** The id of its base; null where it is stored whole. */
  readonly base: number | null;
  readonly settings: StripState;
}

/** What a scene changed from the one it came from, to be shown, searched and filtered by. */
export interface ChangeSummary {
  readonly settings: number;
  /** In desk order. */
  readonly strips: readonly string[];
  /** What those strips are called in the scene. */
  readonly names: readonly string[];
}

/** The strips of a scene as they are to be stored. */
export interface EncodedStrips {
  /** Strips by their fingerprints: several strips may hold the same. */
  readonly fingerprints: ReadonlyMap<string, string>;
  /** Each different strip state once, by its fingerprint. */
  readonly encoded: ReadonlyMap<string, EncodedStrip>;
}

/** Everything that is to be written of a scene's state. */
export interface ScenePlan extends EncodedStrips {
  readonly changed: ChangeSummary;
}

/**
 * What storing a state as a scene writes.
 * @param before those strips of the scene it comes from that are other ones in it; more do no harm, none where it comes from no scene
 */
export function planScene(profile: Profile, state: State, before: ReadonlyMap<string, StripBefore>): ScenePlan {
  const was = Object.fromEntries([...before].map(([strip, { settings }]) => [strip, settings]));
  const changes = diffStates(profile, was, state);
  const strips = [...new Set(changes.map(({ strip }) => strip))];
  const names = strips.map((strip) => displayName(profile, state, strip));
  return { ...encodeStrips(state, before), changed: { settings: changes.length, strips, names } };
}

/** A state as it is to be stored. @param before as for {@link planScene} */
export function encodeStrips(state: State, before: ReadonlyMap<string, StripBefore>): EncodedStrips {
  const fingerprints = new Map<string, string>();
  const encoded = new Map<string, EncodedStrip>();
  for (const [strip, settings] of Object.entries(state)) {
    const fingerprint = stripFingerprint(settings);
    fingerprints.set(strip, fingerprint);
    if (!encoded.has(fingerprint)) encoded.set(fingerprint, encodeStrip(fingerprint, settings, before.get(strip)));
  }
  return { fingerprints, encoded };
}

function encodeStrip(fingerprint: string, settings: StripState, before: StripBefore | undefined): EncodedStrip {
  const delta = before && deltaFrom(before.base.settings, settings);
  return delta ? { fingerprint, base: before.base.id, settings: delta } : { fingerprint, base: null, settings };
}

/** The settings in which a state differs from its base, or undefined where it is better stored whole. */
function deltaFrom(base: StripState, settings: StripState): StripState | undefined {
  const keys = Object.keys(settings);
  if (keys.length !== Object.keys(base).length) return undefined;
  const delta: Record<string, Value> = {};
  for (const key of keys) {
    const [was, now] = [base[key], settings[key]];
    if (was === undefined || now === undefined) return undefined;
    if (was !== now && JSON.stringify(was) !== JSON.stringify(now)) delta[key] = now;
  }
  return Object.keys(delta).length <= MAX_DELTA_SETTINGS ? delta : undefined;
}
