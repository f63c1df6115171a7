import { familyOf, sectionOf } from '../desk/address';
import type { Settings } from '../desk/state';
import type { Value } from '../desk/setting';

/**
 * Whether a setting belongs to the hall rather than to the mix: where a part stands in the stereo field, its EQ against the
 * room, and how long an effect rings there. Common practice.
 */
export const isOfHall = (strip: string, key: string): boolean =>
  familyOf(strip) === 'fx'
    ? key === 'inserts/time' || key === 'inserts/predelay' || sectionOf(key) === 'eq'
    : sectionOf(key) === 'pan' || sectionOf(key) === 'eq';

/** The settings of a hall for strips that carry its parts, all of them or some. */
export function hallSettings(
  settings: Readonly<Record<string, Readonly<Record<string, unknown>>>>,
  parts: Readonly<Record<string, string>>,
  only: readonly string[] = Object.keys(parts),
): Settings {
  const made: Record<string, Value> = {};
  for (const strip of only)
    for (const [key, value] of Object.entries(settings[parts[strip] ?? ''] ?? {}))
      made[`${strip}/${key}`] = value as Value;
  return made;
}
