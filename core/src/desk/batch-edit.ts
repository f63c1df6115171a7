import { Fault } from '../fault/fault';
import { type Profile, specOf, stripFamily } from './profile';
import { isNumberSpec, isOff, quantise, type Value } from './setting';
import { type SettingsByAddress, type State, valueAt } from './state';

/** One change for several strips: to the same value, or by the same step up or down. */
export type BatchChange = { readonly to: Value } | { readonly by: number };

/**
 * One setting of several strips, changed together. A step stays inside the range, and a level that is off stays off: it has no
 * dB to move by. Strips without the setting are left out.
 */
export function batchEdit(
  profile: Profile,
  now: State,
  strips: readonly string[],
  key: string,
  change: BatchChange,
): SettingsByAddress {
  const settings: Record<string, Value> = {};
  for (const strip of strips) {
    if ('by' in change) Object.assign(settings, offsetBy(profile, now, { [`${strip}/${key}`]: change.by }));
    else if (stripFamily(profile, strip)?.settings[key] && now[strip]?.[key] !== undefined)
      settings[`${strip}/${key}`] = change.to;
  }
  return settings;
}

/** By how much to move settings from wherever they are, by address and in their own units. */
export type Offsets = Readonly<Record<string, number>>;

/** Where offsets lead from a state: inside the range, and a level that is off stays off. What the state lacks is left out. */
export function offsetBy(profile: Profile, now: State, offsets: Offsets): SettingsByAddress {
  const settings: Record<string, Value> = {};
  for (const [address, by] of Object.entries(offsets)) {
    const [spec, value] = [specOf(profile, address), valueAt(now, address)];
    if (spec && isNumberSpec(spec) && value !== undefined && !isOff(spec, value))
      settings[address] = quantise(spec, Number(value) + by);
  }
  return settings;
}

/**
 * Takes offsets as a desk of this kind can make them.
 * @throws Fault `refused-input` naming the first address whose value is no number, or is moved by more than its whole range
 */
export function acceptOffsets(profile: Profile, offsets: Readonly<Record<string, unknown>>): Offsets {
  const accepted: Record<string, number> = {};
  for (const [address, by] of Object.entries(offsets)) {
    const spec = specOf(profile, address);
    const isNumber = spec !== undefined && isNumberSpec(spec);
    if (!isNumber || typeof by !== 'number' || !(Math.abs(by) <= spec.max - spec.min))
      throw new Fault(
        'refused-input',
        isNumber
          ? `${address} can be moved by at most ${spec.max - spec.min} ${spec.unit}.`
          : `${address} cannot be moved by an amount.`,
        'Nothing was changed. Correct the amount and try again.',
        address,
      );
    accepted[address] = by;
  }
  return accepted;
}

/** The settings that all of some strips have, in the order of the first. */
export function commonKeys(profile: Profile, strips: readonly string[]): string[] {
  const [first, ...others] = strips.map((strip) => new Set(stripFamily(profile, strip)?.keys ?? []));
  return [...(first ?? [])].filter((key) => others.every((keys) => keys.has(key)));
}
