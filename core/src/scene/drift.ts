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

/** The keys under which two strips do not hold the very same. */
function unlike(family: Family, was: StripState, now: StripState): string[] {
  const { numbers, words } = columnsOf(family);
  const [before, after] = [rowOf(family, was), rowOf(family, now)];
  const found: string[] = [];
  for (let i = 0; i < numbers.length; i++) if (before.numbers[i] !== after.numbers[i]) found.push(numbers[i] as string);
  for (let i = 0; i < words.length; i++) if (before.words[i] !== after.words[i]) found.push(words[i] as string);
  if (found.length < 2) return found;
  const differing = new Set(found);
  return family.keys.filter((key) => differing.has(key));
}

/** A family's keys: those of numbers and switches, and all others. */
interface Columns {
  readonly numbers: readonly string[];
  readonly words: readonly string[];
}

/** A strip's values in the order of its family's columns. NaN, which is never alike, where it lacks one. */
interface Row {
  readonly numbers: Float64Array;
  readonly words: readonly (Value | undefined)[];
}

const columns = new WeakMap<Family, Columns>();
const rows = new WeakMap<StripState, Row>();

function columnsOf(family: Family): Columns {
  const known = columns.get(family);
  if (known) return known;
  const isNumber = (key: string) => {
    const spec = family.settings[key];
    return spec !== undefined && (isNumberSpec(spec) || spec.kind === 'switch');
  };
  const made = { numbers: family.keys.filter(isNumber), words: family.keys.filter((key) => !isNumber(key)) };
  columns.set(family, made);
  return made;
}

/**
 * Remembered for as long as the strip is: comparing two rows takes a tenth of looking every key up, and a state is compared
 * again and again.
 */
function rowOf(family: Family, strip: StripState): Row {
  const { numbers, words } = columnsOf(family);
  const known = rows.get(strip);
  if (known?.numbers.length === numbers.length) return known;
  const row = {
    numbers: Float64Array.from(numbers, (key) => Number(strip[key])),
    words: words.map((key) => strip[key]),
  };
  rows.set(strip, row);
  return row;
}

/** How many different strips a list of changes touches. */
export const stripsIn = (changes: readonly { readonly strip: string }[]): number =>
  new Set(changes.map((c) => c.strip)).size;
