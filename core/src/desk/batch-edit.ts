import { Fault } from '../fault/fault';
import { readAddress, sectionOf } from './address';
import { type Profile, specOf, stripFamily } from './profile';
import { isNumberSpec, isOff, quantise, validateValue, type Value } from './setting';
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

/** How the others of several strips follow the one whose control is moved: by the same step, or to the same value. */
export type Following = 'step' | 'value';

/** What is a strip's own, whatever it is selected with: where it comes from, what it is called, its lanes, and 48 V, which can hurt gear. */
const isItsOwn = (key: string): boolean =>
  ['source', 'label', 'view', 'automation'].includes(sectionOf(key)) ||
  key === 'preamp/phantom' ||
  /^inserts\/\d+\/kind$/.test(key);

/** The settings of an insert follow only where the same is loaded in that slot. */
function hasLoaded(before: State, own: string, strip: string, key: string): boolean {
  const slot = /^inserts\/\d+/.exec(key)?.[0];
  return slot === undefined || before[strip]?.[`${slot}/kind`] === before[own]?.[`${slot}/kind`];
}

/**
 * Where a hand that moves a control of one strip takes the same control of others. By a step each goes from where it was when the hand
 * began, so that they come back exactly when it does; one that is off stays off, and nothing follows a control that was off itself:
 * there is no dB to go by. To a value each goes as far as its own range; what cannot hold it stays. Sources, names, lanes and 48 V
 * are each strip's own, and an insert follows only where the same is loaded.
 * @param before the desk as it was when the hand began
 * @param strips all that move, whether or not the moved one is among them
 */
export function movedTogether(
  profile: Profile,
  before: State,
  strips: readonly string[],
  moved: { readonly address: string; readonly to: Value },
  how: Following,
): SettingsByAddress {
  const { address, to } = moved;
  const [spec, from] = [specOf(profile, address), valueAt(before, address)];
  const own = readAddress(address);
  if (!spec || from === undefined || !own || isItsOwn(own.key)) return { [address]: to };
  const others = strips.filter(
    (strip) =>
      strip !== own.strip &&
      stripFamily(profile, strip)?.settings[own.key] &&
      hasLoaded(before, own.strip, strip, own.key),
  );
  if (how === 'step' && isNumberSpec(spec)) {
    const by = Number(to) - Number(from);
    return { ...(isOff(spec, from) ? {} : batchEdit(profile, before, others, own.key, { by })), [address]: to };
  }
  const settings: Record<string, Value> = { [address]: to };
  for (const strip of others) {
    const other = specOf(profile, `${strip}/${own.key}`);
    const value = other && isNumberSpec(other) && typeof to === 'number' ? quantise(other, to) : to;
    if (other && validateValue(other, value).ok) settings[`${strip}/${own.key}`] = value;
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
