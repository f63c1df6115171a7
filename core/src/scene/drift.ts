import { sectionOf } from '../desk/address';
import { stripFamily, type Family, type Profile } from '../desk/profile';
import { sameValue, type Value } from '../desk/setting';
import type { State, StripState } from '../desk/state';

/** One setting that is not where it was. */
export interface SettingChange {
  readonly address: string;
  readonly strip: string;
  readonly section: string;
  readonly key: string;
  readonly was: Value;
  readonly now: Value;
}

/**
 * Every setting that differs between two states by more than half a step, in desk order.
 * Strips that are the same object are not looked at; settings that only one side has are left out.
 */
export function drift(profile: Profile, was: State, now: State): SettingChange[] {
  return profile.strips.flatMap((strip) => {
    const [before, after] = [was[strip], now[strip]];
    return before && after ? stripDrift(profile, strip, before, after) : [];
  });
}

/** The settings of one strip that differ; looked for among all of them, or among `keys`. */
export function stripDrift(
  profile: Profile,
  strip: string,
  was: StripState,
  now: StripState,
  keys?: readonly string[],
): SettingChange[] {
  if (was === now) return [];
  const changes: SettingChange[] = [];
  const family = stripFamily(profile, strip);
  for (const key of keys ? new Set(keys) : family ? unlike(family, was, now) : []) {
    const before = was[key];
    const after = now[key];
    if (before === after || before === undefined || after === undefined) continue;
    const spec = family?.settings[key];
    if (spec && !sameValue(spec, before, after))
      changes.push({ address: `${strip}/${key}`, strip, section: sectionOf(key), key, was: before, now: after });
  }
  return changes;
}

/** The keys under which two strips do not hold the very same. */
function unlike(family: Family, was: StripState, now: StripState): string[] {
  const [before, after] = [row(family, was), row(family, now)];
  const found: string[] = [];
  for (let i = 0; i < before.length; i++) if (before[i] !== after[i]) found.push(family.keys[i] as string);
  return found;
}

/**
 * A strip's values in the order of its family's keys, remembered for as long as the strip is: comparing two rows takes a
 * tenth of looking every key up, and a state is compared again and again.
 */
function row(family: Family, strip: StripState): readonly (Value | undefined)[] {
  const known = rows.get(strip);
  if (known?.length === family.keys.length) return known;
  const values = family.keys.map((key) => strip[key]);
  rows.set(strip, values);
  return values;
}
const rows = new WeakMap<StripState, readonly (Value | undefined)[]>();

/** How many different strips a list of changes touches. */
export const stripsIn = (changes: readonly { readonly strip: string }[]): number =>
  new Set(changes.map((c) => c.strip)).size;
