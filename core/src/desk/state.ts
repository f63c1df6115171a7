import { Fault } from '../fault/fault';
import { readAddress, sectionOf } from './address';
import { defaultValue, type Profile, specOf, stripFamily } from './profile';
import { validateValue, type Value } from './setting';

/** The settings of one strip by key: `{"fader/level": -5, …}`. */
export type StripState = Readonly<Record<string, Value>>;

/** Every setting of a desk at one moment, by strip. */
export type State = Readonly<Record<string, StripState>>;

/** Values by address: `{"in.7/fader/level": -5}`. */
export type SettingsByAddress = Readonly<Record<string, Value>>;

/** Several lots of settings as one; what stands in more of them is as the last has it. */
export const joinSettings = (lots: readonly SettingsByAddress[]): SettingsByAddress =>
  Object.fromEntries(lots.flatMap((settings) => Object.entries(settings)));

const untouchedDesks = new WeakMap<Profile, State>();

/** The state of a desk that nobody has touched. Made once for each profile, since states are never changed in place. */
export function defaultState(profile: Profile): State {
  const known = untouchedDesks.get(profile);
  if (known) return known;
  const made: State = Object.fromEntries(
    profile.families.flatMap((family) =>
      family.strips.map((strip) => [
        strip,
        Object.fromEntries(
          Object.entries(family.settings).map(([key, spec]) => [key, defaultValue(profile, strip, spec)]),
        ),
      ]),
    ),
  );
  untouchedDesks.set(profile, made);
  return made;
}

/** What of a state is kept; a strip of which nothing is kept is left out, one that is kept whole stays the same one. */
export function filterState(state: State, keepOf: (strip: string) => (key: string, value: Value) => boolean): State {
  const kept: Record<string, StripState> = {};
  for (const strip in state) {
    const [all, keep] = [state[strip] ?? {}, keepOf(strip)];
    const own: Record<string, Value> = {};
    let [some, whole] = [false, true];
    for (const key in all) {
      const value = all[key];
      if (value !== undefined && keep(key, value)) {
        own[key] = value;
        some = true;
      } else whole = false;
    }
    if (some) kept[strip] = whole ? all : own;
  }
  return kept;
}

/** The state with some settings replaced. Strips that do not change keep their identity. */
export function withSettings(state: State, settings: SettingsByAddress): State {
  const touched: Record<string, Record<string, Value>> = {};
  for (const [address, value] of Object.entries(settings)) {
    const parts = readAddress(address);
    if (!parts) continue;
    (touched[parts.strip] ??= { ...state[parts.strip] })[parts.key] = value;
  }
  return { ...state, ...touched };
}

/** A state that may be a part of one, with what it lacks taken from another. Strips that lack nothing keep their identity. */
export function filled(state: State, from: State): State {
  const strips: Record<string, StripState> = { ...from };
  for (const [strip, own] of Object.entries(state)) {
    const other = from[strip];
    const whole = own === other || !other || Object.keys(other).every((key) => own[key] !== undefined);
    strips[strip] = whole ? own : { ...other, ...own };
  }
  return strips;
}

/** Of which keys strips were found to hold every one: strips are never changed in place, and most are the same from scene to scene. */
const complete = new WeakMap<StripState, readonly string[]>();

function holdsAll(strip: StripState, keys: readonly string[]): boolean {
  if (complete.get(strip) === keys) return true;
  const holds = keys.every((key) => strip[key] !== undefined);
  if (holds) complete.set(strip, keys);
  return holds;
}

/** Whether a state holds every setting of its desk. */
export const isWhole = (profile: Profile, state: State): boolean =>
  profile.families.every(({ strips, keys }) =>
    strips.every((strip) => {
      const own = state[strip];
      return own !== undefined && holdsAll(own, keys);
    }),
  );

const parts = new WeakMap<State, Profile>();

/** A profile with the strips and sections that some part of a desk has, and nothing else. */
export function profileOfPart(profile: Profile, part: State): Profile {
  if (isWhole(profile, part)) return profile;
  const known = parts.get(part);
  if (known?.id === profile.id) return known;
  const families = profile.families.flatMap((family) => {
    const strips = family.strips.filter((strip) => Object.keys(part[strip] ?? {}).length > 0);
    const keys = family.keys.filter((key) => strips.some((strip) => part[strip]?.[key] !== undefined));
    const settings = Object.fromEntries(Object.entries(family.settings).filter(([key]) => keys.includes(key)));
    const sections = family.sections.filter((section) => keys.some((key) => sectionOf(key) === section));
    return strips.length > 0 && keys.length > 0 ? [{ ...family, strips, keys, settings, sections }] : [];
  });
  const made = { ...profile, families, strips: families.flatMap((family) => family.strips) };
  parts.set(part, made);
  return made;
}

/** The value at an address, or undefined. */
export function valueAt(state: State, address: string): Value | undefined {
  const parts = readAddress(address);
  return parts && state[parts.strip]?.[parts.key];
}

/** Some settings of a state; those it does not hold are left out. */
export const settingsAt = (state: State, addresses: readonly string[]): SettingsByAddress =>
  Object.fromEntries(
    addresses.flatMap((address) => {
      const value = valueAt(state, address);
      return value === undefined ? [] : [[address, value]];
    }),
  );

/** Every address of a profile, in desk order. */
export const addressesOf = (profile: Profile): string[] =>
  profile.strips.flatMap((strip) => stripAddresses(profile, strip));

/** Every address of one strip. */
export const stripAddresses = (profile: Profile, strip: string): string[] =>
  (stripFamily(profile, strip)?.keys ?? []).map((key) => `${strip}/${key}`);

/**
 * Takes settings at the desk's own resolution.
 * @throws Fault `refused-input` naming the first address that the desk does not have or whose value it would refuse
 */
export function validateSettings(profile: Profile, settings: Readonly<Record<string, unknown>>): SettingsByAddress {
  const taken: Record<string, Value> = {};
  for (const [address, value] of Object.entries(settings)) {
    const spec = specOf(profile, address);
    const answer = spec ? validateValue(spec, value) : { ok: false as const, why: `is not on ${profile.name}` };
    if (!answer.ok)
      throw new Fault(
        'refused-input',
        `${address} ${answer.why}.`,
        'Nothing was changed. Correct the value and try again.',
        address,
      );
    taken[address] = answer.value;
  }
  return taken;
}

/** What a strip is called: its label, or its plain name where it has none. */
export function displayName(profile: Profile, state: State, strip: string): string {
  const label = state[strip]?.['label/name'];
  return typeof label === 'string' && label !== '' ? label : (profile.plainNames[strip] ?? strip);
}
