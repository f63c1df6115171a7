import { type Family, type Profile, specOf, stripFamily } from './profile';
import { isNumberSpec, type SettingSpec, validateValue, type Value } from './setting';
import { filterState, type State, type StripState } from './state';

/** A setting of a family, on all of its strips. */
export interface FamilySetting {
  readonly family: string;
  readonly key: string;
}

/** What a kind of desk has after a change that it did not have before, and the other way round. */
export interface ProfileChange {
  readonly newStrips: readonly string[];
  readonly goneStrips: readonly string[];
  /** In families that were there before. */
  readonly newSettings: readonly FamilySetting[];
  /** In families that are still there. */
  readonly goneSettings: readonly FamilySetting[];
  /** That take other values than before. */
  readonly otherRanges: readonly FamilySetting[];
}

/** What would be set aside of what was captured, where a model of desk is changed. */
export interface ProfileChangeView extends ProfileChange {
  /** The desks that it is a change of. */
  readonly desks: readonly string[];
  /** Scenes of those desks, and how many hold something that would be set aside. */
  readonly scenes: number;
  readonly losing: number;
  /** On how many strips, over all scenes, each setting holds what would be set aside; strips that go are not counted. */
  readonly aside: readonly (FamilySetting & { readonly strips: number })[];
  /** What desks hold now that it would not take: they could not be read until somebody moves it. */
  readonly beyond: readonly { readonly desk: string; readonly address: string }[];
  /** Presets of the library that hold something that would be set aside, by name. */
  readonly presets: readonly string[];
}

export function compareProfiles(before: Profile, after: Profile): ProfileChange {
  const pairs = after.families.flatMap((now) => {
    const was = before.families.find(({ id }) => id === now.id);
    return was ? [{ was, now }] : [];
  });
  const settingsOf = (of: (pair: { was: Family; now: Family }) => string[]): FamilySetting[] =>
    pairs.flatMap((pair) => of(pair).map((key) => ({ family: pair.now.id, key })));
  return {
    newStrips: after.strips.filter((strip) => !stripFamily(before, strip)),
    goneStrips: before.strips.filter((strip) => !stripFamily(after, strip)),
    newSettings: settingsOf(({ was, now }) => now.keys.filter((key) => !was.settings[key])),
    goneSettings: settingsOf(({ was, now }) => was.keys.filter((key) => !now.settings[key])),
    otherRanges: settingsOf(({ was, now }) =>
      now.keys.filter((key) => {
        const [a, b] = [was.settings[key], now.settings[key]];
        return a && b && rangeOf(a) !== rangeOf(b);
      }),
    ),
  };
}

/** What a setting takes; its default, and what is heard of it, are no part of that. */
function rangeOf(spec: SettingSpec): string {
  if (isNumberSpec(spec)) return [spec.kind, spec.unit, spec.min, spec.max, spec.step].join(' ');
  const { default: _, ...range } = spec;
  return JSON.stringify(range);
}

const takes = (spec: SettingSpec | undefined, value: Value): boolean =>
  spec !== undefined && validateValue(spec, value).ok;

/** Whether a kind of desk has a setting, and takes a value for it. */
export const fits = (profile: Profile, address: string, value: Value): boolean =>
  takes(specOf(profile, address), value);

/** The settings of a strip that a kind of desk does not have, or that hold what it does not take. */
export function unfitting(profile: Profile, strip: string, settings: StripState): string[] {
  const specs = stripFamily(profile, strip)?.settings;
  return Object.entries(settings).flatMap(([key, value]) => (takes(specs?.[key], value) ? [] : [key]));
}

const fitted = new WeakMap<Family, WeakMap<StripState, StripState>>();

/** What of a state a kind of desk has and takes. A strip that fits is the same object, and so is what is left of another each time. */
export function fittingState(profile: Profile, state: State): State {
  return Object.fromEntries(
    Object.entries(state).flatMap(([strip, settings]) => {
      const family = stripFamily(profile, strip);
      if (!family) return [];
      const known = fitted.get(family) ?? new WeakMap<StripState, StripState>();
      fitted.set(family, known);
      const fitting =
        known.get(settings) ??
        filterState({ [strip]: settings }, () => (key, value) => takes(family.settings[key], value))[strip] ??
        {};
      known.set(settings, fitting);
      return [[strip, fitting]];
    }),
  );
}
