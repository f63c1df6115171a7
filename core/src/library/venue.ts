import { familyOf, sectionOf } from '../desk/address';
import { type Profile, stripNumber } from '../desk/profile';
import { fits } from '../desk/profile-change';
import type { Value } from '../desk/setting';
import type { SettingsByAddress, State, StripState } from '../desk/state';
import { filterSettings } from './convert-strip';

/** How long an effect rings, and when it begins to: of its inserts, what the room decides. */
export const EFFECT_LENGTHS = 'effect lengths';

/**
 * The sections that belong to a venue rather than to a mix: where a part stands in the stereo field, its EQ against the room, and
 * how long an effect rings there. Common practice.
 */
export const USUAL_VENUE_SECTIONS: readonly string[] = ['pan', 'eq', EFFECT_LENGTHS];

/** Which section of a venue a setting belongs to. */
export const venueSectionOf = (strip: string, key: string): string =>
  familyOf(strip) === 'fx' && (key === 'inserts/time' || key === 'inserts/predelay') ? EFFECT_LENGTHS : sectionOf(key);

/** The strips of which a venue holds something, with their parts. */
export function partsHeld(
  settings: Readonly<Record<string, unknown>>,
  parts: Readonly<Record<string, string>>,
): [strip: string, part: string][] {
  const keys = venueKeys(parts);
  return Object.entries(parts).filter(([strip]) => settings[keys[strip] ?? ''] !== undefined);
}

/** The sections of which a venue holds something. */
export function sectionsHeld(
  settings: Readonly<Record<string, Readonly<Record<string, unknown>>>>,
  parts: Readonly<Record<string, string>>,
): Set<string> {
  const keys = venueKeys(parts);
  return new Set(
    Object.keys(parts).flatMap((strip) =>
      Object.keys(settings[keys[strip] ?? ''] ?? {}).map((key) => venueSectionOf(strip, key)),
    ),
  );
}

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

/**
 * What a venue keeps of a desk, by {@link venueKeys}: of some strips where not all of them play there.
 * @param sections as {@link venueSectionOf} names them
 */
export function settingsForVenue(
  parts: Readonly<Record<string, string>>,
  now: State,
  sections: readonly string[] = USUAL_VENUE_SECTIONS,
  strips: readonly string[] = Object.keys(parts),
): Record<string, StripState> {
  const keys = venueKeys(parts);
  return Object.fromEntries(
    strips.flatMap((strip) => {
      const name = keys[strip];
      return name === undefined
        ? []
        : [[name, filterSettings(now[strip] ?? {}, (_, key) => sections.includes(venueSectionOf(strip, key)))]];
    }),
  );
}

/** The settings of a venue for strips that carry its parts, all of them or some; as far as the desk has and takes them today. */
export function venueSettings(
  profile: Profile,
  settings: Readonly<Record<string, Readonly<Record<string, unknown>>>>,
  parts: Readonly<Record<string, string>>,
  only: readonly string[] = Object.keys(parts),
): SettingsByAddress {
  const keys = venueKeys(parts);
  const made: Record<string, Value> = {};
  for (const strip of only)
    for (const [key, value] of Object.entries(settings[keys[strip] ?? ''] ?? {}))
      if (fits(profile, `${strip}/${key}`, value as Value)) made[`${strip}/${key}`] = value as Value;
  return made;
}
