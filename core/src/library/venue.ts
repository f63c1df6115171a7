import { familyOf, sectionOf } from '../desk/address';
import { stripNumber } from '../desk/profile';
import type { Value } from '../desk/setting';
import type { SettingsByAddress, State, StripState } from '../desk/state';
import { filterSettings } from './convert-strip';

/**
 * Whether a setting belongs to the venue rather than to the mix: where a part stands in the stereo field, its EQ against the
 * room, and how long an effect rings there. Common practice.
 */
const isVenueSetting = (strip: string, key: string): boolean =>
  familyOf(strip) === 'fx'
    ? key === 'inserts/time' || key === 'inserts/predelay' || sectionOf(key) === 'eq'
    : sectionOf(key) === 'pan' || sectionOf(key) === 'eq';

/**
 * Under which key the settings of each strip are kept in a venue: its part, and where several strips share one, for each but
 * the first in desk order its place among them behind a tab, which no part can hold.
 */
export function venueKeys(parts: Readonly<Record<string, string>>): Readonly<Record<string, string>> {
  const seen = new Map<string, number>();
  const inOrder = Object.entries(parts).sort(
    ([one], [other]) => familyOf(one).localeCompare(familyOf(other)) || stripNumber(one) - stripNumber(other),
  );
  return Object.fromEntries(
    inOrder.map(([strip, part]) => {
      const n = (seen.get(part) ?? 0) + 1;
      seen.set(part, n);
      return [strip, n === 1 ? part : `${part}\t${n}`];
    }),
  );
}

/** What a venue keeps of a desk, by {@link venueKeys}. */
export function settingsForVenue(parts: Readonly<Record<string, string>>, now: State): Record<string, StripState> {
  return Object.fromEntries(
    Object.entries(venueKeys(parts)).map(([strip, name]) => [
      name,
      filterSettings(now[strip] ?? {}, (_, key) => isVenueSetting(strip, key)),
    ]),
  );
}

/** The settings of a venue for strips that carry its parts, all of them or some. */
export function venueSettings(
  settings: Readonly<Record<string, Readonly<Record<string, unknown>>>>,
  parts: Readonly<Record<string, string>>,
  only: readonly string[] = Object.keys(parts),
): SettingsByAddress {
  const keys = venueKeys(parts);
  const made: Record<string, Value> = {};
  for (const strip of only)
    for (const [key, value] of Object.entries(settings[keys[strip] ?? ''] ?? {}))
      made[`${strip}/${key}`] = value as Value;
  return made;
}
