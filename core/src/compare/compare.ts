import { familyOf } from '../desk/address';
import { diffStates, type SettingChange } from '../desk/diff-states';
import { type Profile, stripFamily } from '../desk/profile';
import { filled, type State } from '../desk/state';
import { createIsObviouslyAudible, createMaxPathGain, pathGains } from '../signal/path-gain';
import { AUDIBLE_PATH_GAIN_DB } from '../signal/thresholds';
import { type Audibility, AUDIBILITY_FLOOR_DB, type CellSides, MAX_AUDIBILITY_DB, rateAudibility } from './audibility';

/** One section of one strip that differs between A and B. */
export interface CellDifference extends Audibility {
  readonly strip: string;
  readonly section: string;
  /** `was` is A's, `now` is B's. */
  readonly changes: readonly SettingChange[];
}

export interface Comparison {
  /** What one would hear most first; in desk order where that is the same. */
  readonly cells: readonly CellDifference[];
  /** How many settings differ. */
  readonly settings: number;
  /** The strips that differ, in desk order. */
  readonly strips: readonly string[];
}

/**
 * Everything that differs between two states of one kind of desk, ranked by how much of it one would hear.
 */
export function compare(profile: Profile, a: State, b: State): Comparison {
  const loudest = { a: createMaxPathGain(profile, a), b: createMaxPathGain(profile, b) };
  const heard = { a: createIsObviouslyAudible(profile, a), b: createIsObviouslyAudible(profile, b) };
  const of = (strip: string): StripPair => {
    const isSource = ['in', 'fx'].includes(familyOf(strip));
    const reach = () => (isSource ? Math.max(loudest.a(strip), loudest.b(strip)) : 0);
    let known: boolean | undefined;
    const silent = () => (known ??= isSource && !heard.a(strip) && !heard.b(strip) && reach() <= AUDIBLE_PATH_GAIN_DB);
    const settings = stripFamily(profile, strip)?.settings ?? {};
    return { profile, strip, settings, a: a[strip] ?? {}, b: b[strip] ?? {}, reach, silent };
  };
  const cells: Ranked[] = [];
  const strips: string[] = [];
  const changes = diffStates(profile, a, b);
  let sides: StripPair | undefined;
  for (let from = 0, to = 0, first = changes[0]; first; from = to, first = changes[from]) {
    // In desk order the changes of one cell follow one another.
    const { strip, section } = first;
    while (changes[to]?.section === section && changes[to]?.strip === strip) to++;
    if (sides?.strip !== strip) {
      sides = of(strip);
      strips.push(strip);
    }
    cells.push(cellDifference(sides, section, changes.slice(from, to)));
  }
  return { cells: sortByRank(cells), settings: changes.length, strips };
}

/**
 * Two states as they are compared where one may be a part of a desk: what only one of them holds is taken to be the same in
 * the other, so that nothing is said of it.
 */
export const comparable = (a: State, b: State): [a: State, b: State] => [filled(a, b), filled(b, a)];

type StripPair = Omit<CellSides, 'section' | 'changes'>;

interface Ranked extends CellDifference {
  /** The higher, the earlier: what can be heard at all stands before all else. */
  readonly rank: number;
}

function cellDifference(sides: StripPair, section: string, changes: readonly SettingChange[]): Ranked {
  const { profile, strip, settings, a, b, reach, silent } = sides;
  // Field by field: spreading one object into another is what most of a comparison would take.
  const found = rateAudibility({ profile, strip, settings, a, b, reach, silent, section, changes });
  const { heard, audible, higher, fact } = found;
  // NaN if a strip lacks the setting: rank as zero.
  const rank = audible ? heard + MAX_AUDIBILITY_DB : (heard || 0) - MAX_AUDIBILITY_DB;
  const cell: Ranked = { heard, audible, higher, fact, strip, section, changes, rank };
  return found.silent ? { ...cell, silent: true } : cell;
}

/** Ranks are told apart by a ten-thousandth of a dB. */
const RANK_STEPS_PER_DB = 10_000;
/** More cells than any desk has. */
const MAX_CELLS = 2 ** 20;

/** What has the higher rank first; as they come where it is the same. Numbers sort in a fraction of the time that cells do. */
function sortByRank(cells: readonly Ranked[]): Ranked[] {
  const keys = Float64Array.from(
    cells,
    ({ rank }, i) => Math.round((2 * MAX_AUDIBILITY_DB - rank) * RANK_STEPS_PER_DB) * MAX_CELLS + i,
  );
  keys.sort();
  const sorted: Ranked[] = [];
  for (const key of keys) {
    const cell = cells[key - Math.floor(key / MAX_CELLS) * MAX_CELLS];
    if (cell) sorted.push(cell);
  }
  return sorted;
}

/** One output on which A and B differ, in dB; a side is −Infinity where nothing passes. */
export interface OutputDifference {
  readonly output: string;
  /** All of its sources together, as if they had nothing to do with one another: the sum of their powers. */
  readonly a: number;
  readonly b: number;
  /** The source that moves most. */
  readonly source: string;
}

/** The path gain of every output on which it differs by more than half a dB on any path, the most moved first. */
export function outputDifferences(profile: Profile, before: State, after: State): OutputDifference[] {
  const gains = { a: pathGains(profile, before), b: pathGains(profile, after) };
  const total = (of: Readonly<Record<string, number>>) =>
    10 * Math.log10(Object.values(of).reduce((sum, gain) => sum + 10 ** (gain / 10), 0));
  return Object.keys(gains.b)
    .flatMap((output) => {
      const [a, b] = [gains.a[output] ?? {}, gains.b[output] ?? {}];
      const [most] = Object.keys(b)
        .map((source) => ({ source, by: Math.abs(levelChangeDb(a[source], b[source])) }))
        .sort((one, other) => other.by - one.by);
      return most && most.by > 0.5 ? [{ output, a: total(a), b: total(b), source: most.source, by: most.by }] : [];
    })
    .sort((one, other) => other.by - one.by);
}

const levelChangeDb = (a = -Infinity, b = -Infinity): number =>
  Math.max(AUDIBILITY_FLOOR_DB, b) - Math.max(AUDIBILITY_FLOOR_DB, a);
