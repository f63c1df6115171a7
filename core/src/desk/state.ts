import { Fault } from '../contracts/fault';
import { readAddress } from './address';
import { accept, type Value } from './setting';
import { defaultOf, specAt, stripFamily, type Profile } from './profile';

/** The settings of one strip by key: `{"fader/level": -5, …}`. */
export type StripState = Readonly<Record<string, Value>>;

/** Every setting of a desk at one moment, by strip. */
export type State = Readonly<Record<string, StripState>>;

/** Values by address: `{"in.7/fader/level": -5}`. */
export type Settings = Readonly<Record<string, Value>>;

/** The state of a desk that nobody has touched. */
export function untouched(profile: Profile): State {
  return Object.fromEntries(
    profile.families.flatMap((family) =>
      family.strips.map((strip) => [
        strip,
        Object.fromEntries(
          Object.entries(family.settings).map(([key, spec]) => [key, defaultOf(profile, strip, spec)]),
        ),
      ]),
    ),
  );
}

/** The state with some settings replaced. Strips that do not change keep their identity. */
export function withSettings(state: State, settings: Settings): State {
  const touched: Record<string, Record<string, Value>> = {};
  for (const [address, value] of Object.entries(settings)) {
    const parts = readAddress(address);
    if (!parts) continue;
    (touched[parts.strip] ??= { ...state[parts.strip] })[parts.key] = value;
  }
  return { ...state, ...touched };
}

/** The value at an address, or undefined. */
export function valueAt(state: State, address: string): Value | undefined {
  const parts = readAddress(address);
  return parts && state[parts.strip]?.[parts.key];
}

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
export function acceptSettings(profile: Profile, settings: Readonly<Record<string, unknown>>): Settings {
  const taken: Record<string, Value> = {};
  for (const [address, value] of Object.entries(settings)) {
    const spec = specAt(profile, address);
    const answer = spec ? accept(spec, value) : { ok: false as const, why: `is not on ${profile.name}` };
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
export function stripName(profile: Profile, state: State, strip: string): string {
  const label = state[strip]?.['label/name'];
  return typeof label === 'string' && label !== '' ? label : (profile.plainNames[strip] ?? strip);
}
