import { sectionOf } from '../desk/address';
import { stripFamily, type Family, type Profile } from '../desk/profile';
import { isNumberSpec, sameValue, type SettingSpec, type Value } from '../desk/setting';
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
  const family = stripFamily(profile, strip);
  if (was === now || !family) return [];
  if (!keys)
    return unlike(family, was, now).map(({ key, section }) => changeOf(strip, key, section, was[key], now[key]));
  return [...new Set(keys)].flatMap((key) => {
    const spec = family.settings[key];
    return spec && differ(spec, was[key], now[key]) ? [changeOf(strip, key, sectionOf(key), was[key], now[key])] : [];
  });
}

const differ = (spec: SettingSpec, before: Value | undefined, after: Value | undefined): boolean =>
  before !== undefined && after !== undefined && !sameValue(spec, before, after);

const changeOf = (
  strip: string,
  key: string,
  section: string,
  was: Value | undefined,
  now: Value | undefined,
): SettingChange => ({ address: `${strip}/${key}`, strip, section, key, was: was as Value, now: now as Value });

/** The settings that differ between two strips, in desk order. */
function unlike(family: Family, was: StripState, now: StripState): readonly Place[] {
  const layout = layoutOf(family);
  const { apart, words } = layout;
  const [before, after] = [rowOf(layout, was), rowOf(layout, now)];
  const found = numbersApart(before.numbers, after.numbers, apart).map((i) => layout.numbers[i] as Place);
  const numbers = found.length;
  for (let i = 0; i < words.length; i++) {
    const [word, one, other] = [words[i] as Place, before.words[i], after.words[i]];
    if (one !== other && differ(word.spec, one, other)) found.push(word);
  }
  return numbers > 0 && found.length > numbers ? found.sort((one, other) => one.at - other.at) : found;
}

/** Where two rows lie further apart than they may. What one of them lacks is no number, and that is apart from nothing. */
function numbersApart(one: Float64Array, other: Float64Array, apart: Float64Array): number[] {
  const found: number[] = [];
  for (let i = 0; i < apart.length; i++)
    if (Math.abs((one[i] as number) - (other[i] as number)) > (apart[i] as number)) found.push(i);
  return found;
}

/** A setting of a family: the how-manyeth it is, and what is known of it. */
interface Place {
  readonly at: number;
  readonly key: string;
  readonly section: string;
  readonly spec: SettingSpec;
}

interface Layout {
  /** The settings that are numbers or switches. */
  readonly numbers: readonly Place[];
  /** By more than this two numbers or switches differ. */
  readonly apart: Float64Array;
  /** The others. */
  readonly words: readonly Place[];
}

const layouts = new WeakMap<Family, Layout>();
const rows = new WeakMap<StripState, Row>();

const isNumeric = ({ spec }: Place): boolean => isNumberSpec(spec) || spec.kind === 'switch';

function layoutOf(family: Family): Layout {
  const known = layouts.get(family);
  if (known) return known;
  const places = family.keys.flatMap((key, at): Place[] => {
    const spec = family.settings[key];
    return spec ? [{ at, key, section: sectionOf(key), spec }] : [];
  });
  const numbers = places.filter(isNumeric);
  const made = {
    numbers,
    apart: Float64Array.from(numbers, ({ spec }) => (isNumberSpec(spec) ? spec.step / 2 + 1e-9 : 0.5)),
    words: places.filter((place) => !isNumeric(place)),
  };
  layouts.set(family, made);
  return made;
}

/** A strip's values in the order of its family's layout. */
interface Row {
  readonly numbers: Float64Array;
  readonly words: readonly (Value | undefined)[];
}

/**
 * Remembered for as long as the strip is: comparing two rows takes a tenth of looking every key up, and a state is compared
 * again and again.
 */
function rowOf({ numbers, words }: Layout, strip: StripState): Row {
  const known = rows.get(strip);
  if (known?.numbers.length === numbers.length) return known;
  const row = { numbers: new Float64Array(numbers.length), words: words.map(({ key }) => strip[key]) };
  for (let i = 0; i < numbers.length; i++) row.numbers[i] = Number(strip[(numbers[i] as Place).key]);
  rows.set(strip, row);
  return row;
}

/** How many different strips a list of changes touches. */
export const stripsIn = (changes: readonly { readonly strip: string }[]): number =>
  new Set(changes.map((c) => c.strip)).size;
