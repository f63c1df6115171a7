import { stripFamily, type Profile } from '../desk/profile';
import { isNumberSpec, isOff, quantise, type Value } from '../desk/setting';
import type { Settings, State } from '../desk/state';

/** One change for several strips: to the same value, or by the same step up or down. */
export type Change = { readonly to: Value } | { readonly by: number };

/**
 * One setting of several strips, changed together. A step stays inside the range, and a level that is off stays off: it has no
 * dB to move by. Strips without the setting are left out.
 */
export function changedTogether(
  profile: Profile,
  now: State,
  strips: readonly string[],
  key: string,
  change: Change,
): Settings {
  const settings: Record<string, Value> = {};
  for (const strip of strips) {
    const [spec, value] = [stripFamily(profile, strip)?.settings[key], now[strip]?.[key]];
    if (!spec || value === undefined) continue;
    if ('to' in change) settings[`${strip}/${key}`] = change.to;
    else if (isNumberSpec(spec) && !isOff(spec, value))
      settings[`${strip}/${key}`] = quantise(spec, Number(value) + change.by);
  }
  return settings;
}

/** The settings that all of some strips have, in the order of the first. */
export function sharedKeys(profile: Profile, strips: readonly string[]): string[] {
  const [first, ...others] = strips.map((strip) => new Set(stripFamily(profile, strip)?.keys ?? []));
  return [...(first ?? [])].filter((key) => others.every((keys) => keys.has(key)));
}
