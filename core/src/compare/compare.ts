import { familyOf } from '../desk/address';
import { stripFamily, type Profile } from '../desk/profile';
import { filled, type State } from '../desk/state';
import { loudestPaths, pathGains, surelyHeard } from '../signal/path-gain';
import { HEARD_FROM } from '../signal/thresholds';
import { drift, type SettingChange } from '../desk/diff-states';
import { FLOOR, heardOf, MOST, type CellSides, type Heard, type Side } from './audibility';

/** One section of one strip that differs between A and B. */
export interface CellDifference extends Omit<Heard, 'say'> {
  readonly strip: string;
  readonly section: string;
  /** `was` is A's, `now` is B's. */
  readonly changes: readonly SettingChange[];
  /** What differs, in trade units. */
  readonly words: string;
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
 * @param names a state whose labels name the strips
 */
export function compare(profile: Profile, a: State, b: State, names: State = b): Comparison {
  const loudest = { a: loudestPaths(profile, a), b: loudestPaths(profile, b) };
  const heard = { a: surelyHeard(profile, a), b: surelyHeard(profile, b) };
  const of = (strip: string): StripSides => {
    const isSource = ['in', 'fx'].includes(familyOf(strip));
    const reach = () => (isSource ? Math.max(loudest.a(strip), loudest.b(strip)) : 0);
    let known: boolean | undefined;
    const silent = () => (known ??= isSource && !heard.a(strip) && !heard.b(strip) && reach() <= HEARD_FROM);
    const settings = stripFamily(profile, strip)?.settings ?? {};
    return { profile, strip, settings, a: a[strip] ?? {}, b: b[strip] ?? {}, reach, silent };
  };
  const cells: Cell[] = [];
  const strips: string[] = [];
  const changes = drift(profile, a, b);
  let sides: StripSides | undefined;
  for (let from = 0, to = 0; from < changes.length; from = to) {
    // In desk order the changes of one cell follow one another.
    const { strip, section } = changes[from] as SettingChange;
    while (changes[to]?.section === section && changes[to]?.strip === strip) to++;
    if (sides?.strip !== strip) {
      sides = of(strip);
      strips.push(strip);
    }
    cells.push(new Cell(sides, section, changes.slice(from, to), names));
  }
  return { cells: ranked(cells), settings: changes.length, strips };
}

/**
 * Two states as they are compared where one may be a part of a desk: what only one of them holds is taken to be the same in
 * the other, so that nothing is said of it.
 */
export const comparable = (a: State, b: State): [a: State, b: State] => [filled(a, b), filled(b, a)];

type StripSides = Omit<CellSides, 'section' | 'changes'>;

/** A cell that is put into words only when somebody reads it: two unlike scenes differ in thousands. */
class Cell implements CellDifference {
  readonly strip: string;
  readonly heard: number;
  readonly audible: boolean;
  readonly higher: Side | null;
  /** The higher, the earlier: what can be heard at all stands before all else. */
  readonly rank: number;
  private readonly say: Heard['say'];

  constructor(
    sides: StripSides,
    readonly section: string,
    readonly changes: readonly SettingChange[],
    private readonly names: State,
  ) {
    const { profile, strip, settings, a, b, reach, silent } = sides;
    const { heard, audible, higher, say } = heardOf({
      profile,
      strip,
      settings,
      section,
      changes,
      a,
      b,
      reach,
      silent,
    });
    this.strip = strip;
    this.heard = heard;
    this.audible = audible;
    this.higher = higher;
    this.say = say;
    // Of a strip that lacks a setting nobody can say how much is heard.
    this.rank = audible ? heard + MOST : (heard || 0) - MOST;
  }

  get words(): string {
    return this.say(this.names);
  }
}

/** Ranks are told apart by a ten-thousandth of a dB. */
const FINE = 10_000;
/** More cells than any desk has. */
const CELLS = 2 ** 20;

/** What has the higher rank first; as they come where it is the same. Numbers sort in a fraction of the time that cells do. */
function ranked(cells: readonly Cell[]): Cell[] {
  const keys = new Float64Array(cells.length);
  for (let i = 0; i < keys.length; i++) keys[i] = Math.round((2 * MOST - (cells[i] as Cell).rank) * FINE) * CELLS + i;
  keys.sort();
  const sorted: Cell[] = [];
  for (const key of keys) sorted.push(cells[key - Math.floor(key / CELLS) * CELLS] as Cell);
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
        .map((source) => ({ source, by: Math.abs(moved(a[source], b[source])) }))
        .sort((one, other) => other.by - one.by);
      return most && most.by > 0.5 ? [{ output, a: total(a), b: total(b), source: most.source, by: most.by }] : [];
    })
    .sort((one, other) => other.by - one.by);
}

const moved = (a = -Infinity, b = -Infinity): number => Math.max(FLOOR, b) - Math.max(FLOOR, a);
