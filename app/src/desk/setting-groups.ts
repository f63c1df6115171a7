import type { Family } from '@old-echo/core/desk/profile';
import type { StripState } from '@old-echo/core/desk/state';

/** Settings that belong together inside a section: a band, a slot, a send. */
export interface SettingGroup {
  /** The part of the key they share: `2`, `mix.3`. */
  readonly part: string;
  readonly keys: readonly string[];
}

/**
 * The settings of a section as single ones and groups, in the order of the profile. Settings of a processor that a slot
 * does not hold at the moment are left out.
 */
export function settingGroups(
  family: Family,
  section: string,
  strip: StripState,
): { singles: string[]; groups: SettingGroup[] } {
  const singles: string[] = [];
  const groups = new Map<string, string[]>();
  for (const key of family.keys) {
    const [first, part, third, fourth] = key.split('/');
    if (first !== section || part === undefined) continue;
    if (third === undefined) singles.push(key);
    else if (fourth === undefined || strip[`${section}/${part}/kind`] === third)
      groups.set(part, [...(groups.get(part) ?? []), key]);
  }
  return { singles, groups: [...groups].map(([part, keys]) => ({ part, keys })) };
}
