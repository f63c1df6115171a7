import { sectionOf } from '../desk/address';
import { stripFamily, type Family, type Profile } from '../desk/profile';
import { isNumberSpec, sameValue, type Value } from '../desk/setting';
import type { State, StripState } from '../desk/state';

/** One setting that is not where it was. */
export interface SettingChange {
  readonly address: string;
  readonly strip: string;
  readonly section: string;
  readonly key: string;
  readonly was: Value;
  readonly now: Value;
}

/**
 * Every setting that differs between two states by more than half a step, in desk order.
 * Strips that are the same object are not looked at; settings that only one side has are left out.
 */
export function drift(profile: Profile, was: State, now: State): SettingChange[] {
  return profile.strips.flatMap((strip) => {
    const [before, after] = [was[strip], now[strip]];
    return before && after ? stripDrift(profile, strip, before, after) : [];
  });
}

/** The settings of one strip that differ; looked for among all of them, or among `keys`. */
export function stripDrift(
  profile: Profile,
  strip: string,
  was: StripState,
  now: StripState,
  keys?: readonly string[],
): SettingChange[] {
  if (was === now) return [];
  const changes: SettingChange[] = [];
  const family = stripFamily(profile, strip);
  for (const key of keys ? new Set(keys) : family ? unlike(family, was, now) : []) {
    const before = was[key];
    const after = now[key];
    if (before === after || before === undefined || after === undefined) continue;
    const spec = family?.settings[key];
    if (spec && !sameValue(spec, before, after))
      changes.push({ address: `${strip}/${key}`, strip, section: sectionOf(key), key, was: before, now: after });
  }
  return changes;
}

/** The keys under which two strips do not hold the very same, in desk order. */
function unlike(family: Family, was: StripState, now: StripState): string[] {
  const words = wordsOf(family);
  const [before, after] = [rowOf(family, was, words), rowOf(family, now, words)];
  const found: number[] = [];
  for (let i = 0; i < before.numbers.length; i++) if (before.numbers[i] !== after.numbers[i]) found.push(i);
  const numbers = found.length;
  for (let i = 0; i < words.length; i++) if (before.words[i] !== after.words[i]) found.push(words[i] as number);
  if (numbers > 0 && found.length > numbers) found.sort((one, other) => one - other);
  return found.map((i) => family.keys[i] as string);
}

/** A strip's values: numbers and switches in the order of its family's keys, 0 for all others, and those others. */
interface Row {
  /** NaN, which is never alike, where the strip lacks one. */
  readonly numbers: Float64Array;
  readonly words: readonly (Value | undefined)[];
}

const places = new WeakMap<Family, readonly number[]>();
const rows = new WeakMap<StripState, Row>();

/** Where a family's keys of neither numbers nor switches stand among its keys. */
function wordsOf(family: Family): readonly number[] {
  const known = places.get(family);
  if (known) return known;
  const made = family.keys.flatMap((key, i) => {
    const spec = family.settings[key];
    return spec && (isNumberSpec(spec) || spec.kind === 'switch') ? [] : [i];
  });
  places.set(family, made);
  return made;
}

/**
 * Remembered for as long as the strip is: comparing two rows takes a tenth of looking every key up, and a state is compared
 * again and again.
 */
function rowOf({ keys }: Family, strip: StripState, words: readonly number[]): Row {
  const known = rows.get(strip);
  if (known?.numbers.length === keys.length) return known;
  const numbers = new Float64Array(keys.length);
  for (let i = 0; i < keys.length; i++) numbers[i] = Number(strip[keys[i] as string]);
  for (const i of words) numbers[i] = 0;
  const row = { numbers, words: words.map((i) => strip[keys[i] as string]) };
  rows.set(strip, row);
  return row;
}

/** How many different strips a list of changes touches. */
export const stripsIn = (changes: readonly { readonly strip: string }[]): number =>
  new Set(changes.map((c) => c.strip)).size;
