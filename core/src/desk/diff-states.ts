import { sectionOf } from './address';
import { type Family, type Profile, stripFamily } from './profile';
import { isNumberSpec, sameValue, type SettingSpec, type Value } from './setting';
import type { State, StripState } from './state';

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
export function diffStates(profile: Profile, was: State, now: State): SettingChange[] {
  const changes: SettingChange[] = [];
  for (const strip of profile.strips) {
    const [before, after, family] = [was[strip], now[strip], stripFamily(profile, strip)];
    if (before && after && before !== after && family) collectChanges(changes, strip, family, before, after);
  }
  return changes;
}

/** The settings of one strip that differ; looked for among all of them, or among `keys`. */
export function diffStrip(
  profile: Profile,
  strip: string,
  was: StripState,
  now: StripState,
  keys?: readonly string[],
): SettingChange[] {
  const family = stripFamily(profile, strip);
  if (was === now || !family) return [];
  if (!keys) {
    const changes: SettingChange[] = [];
    collectChanges(changes, strip, family, was, now);
    return changes;
  }
  return [...new Set(keys)].flatMap((key) => {
    const spec = family.settings[key];
    return spec && isDifferent(spec, was[key], now[key])
      ? [changeOf(strip, { key, section: sectionOf(key) }, was[key], now[key])]
      : [];
  });
}

const isDifferent = (spec: SettingSpec, before: Value | undefined, after: Value | undefined): boolean =>
  before !== undefined && after !== undefined && !sameValue(spec, before, after);

const changeOf = (
  strip: string,
  { key, section }: Pick<SettingIndex, 'key' | 'section'>,
  was: Value | undefined,
  now: Value | undefined,
): SettingChange => ({ address: `${strip}/${key}`, strip, section, key, was: was!, now: now! });

/** Adds the settings that differ between two strips, in desk order. */
function collectChanges(
  changes: SettingChange[],
  strip: string,
  family: Family,
  was: StripState,
  now: StripState,
): void {
  const layout = layoutOf(family);
  const [before, after] = [rowOfStrip(layout, was), rowOfStrip(layout, now)];
  const words = otherDifferences(before.words, after.words, layout.words);
  let next = 0;
  const addWords = (upTo: number) => {
    for (let word = words[next]; word && word.at < upTo; word = words[++next])
      changes.push(changeOf(strip, word, was[word.key], now[word.key]));
  };
  for (const i of numericDifferences(before.numbers, after.numbers, layout.apart)) {
    const place = layout.numbers[i]!;
    if (next < words.length) addWords(place.at);
    // Read from the rows: they are contiguous in memory, the settings are not.
    const [one, other] = [before.numbers[i]!, after.numbers[i]!];
    changes.push(
      place.spec.kind === 'switch'
        ? changeOf(strip, place, one === 1, other === 1)
        : changeOf(strip, place, one, other),
    );
  }
  addWords(Infinity);
}

/** Where two rows differ by more than the tolerance. A missing value is NaN, which never differs. */
function numericDifferences(one: Float64Array, other: Float64Array, apart: Float64Array): number[] {
  const found: number[] = [];
  for (let i = 0; i < apart.length; i++) {
    const from = one[i]!;
    const to = other[i]!;
    if (from !== to && Math.abs(from - to) > apart[i]!) found.push(i);
  }
  return found;
}

function otherDifferences(
  one: StripRow['words'],
  other: StripRow['words'],
  words: FamilyLayout['words'],
): SettingIndex[] {
  const found: SettingIndex[] = [];
  for (let i = 0; i < words.length; i++) {
    const word = words[i]!;
    if (one[i] !== other[i] && isDifferent(word.spec, one[i], other[i])) found.push(word);
  }
  return found;
}

/** A setting and its index in profile order. */
interface SettingIndex {
  readonly at: number;
  readonly key: string;
  readonly section: string;
  readonly spec: SettingSpec;
}

interface FamilyLayout {
  /** The settings that are numbers or switches. */
  readonly numbers: readonly SettingIndex[];
  /** By more than this two numbers or switches differ. */
  readonly apart: Float64Array;
  /** The others. */
  readonly words: readonly SettingIndex[];
}

const layouts = new WeakMap<Family, FamilyLayout>();
const rows = new WeakMap<StripState, StripRow>();

const isNumeric = ({ spec }: SettingIndex): boolean => isNumberSpec(spec) || spec.kind === 'switch';

function layoutOf(family: Family): FamilyLayout {
  const known = layouts.get(family);
  if (known) return known;
  const places = Object.entries(family.settings).map(([key, spec], at): SettingIndex => ({
    at,
    key,
    section: sectionOf(key),
    spec,
  }));
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
interface StripRow {
  readonly numbers: Float64Array;
  readonly words: readonly (Value | undefined)[];
}

/**
 * Remembered for as long as the strip is: comparing two rows takes a tenth of looking every key up, and a state is compared
 * again and again.
 */
function rowOfStrip({ numbers, words }: FamilyLayout, strip: StripState): StripRow {
  const known = rows.get(strip);
  if (known?.numbers.length === numbers.length) return known;
  const row = { numbers: new Float64Array(numbers.length), words: words.map(({ key }) => strip[key]) };
  for (let i = 0; i < numbers.length; i++) row.numbers[i] = Number(strip[numbers[i]!.key]);
  rows.set(strip, row);
  return row;
}

/** How many different strips a list of changes touches. */
export const countStrips = (changes: readonly { readonly strip: string }[]): number =>
  new Set(changes.map((c) => c.strip)).size;
