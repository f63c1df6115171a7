import { familyOf } from '../desk/address';
import type { Profile } from '../desk/profile';
import type { State } from '../desk/state';
import { pathGains, type PathGains } from '../preview/path-gain';
import { drift, type SettingChange } from '../scene/drift';
import { FLOOR, heardOf, type Heard } from './heard';

/** One section of one strip that differs between A and B. */
export interface CellDifference extends Heard {
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
  readonly gains: { readonly a: PathGains; readonly b: PathGains };
}

/**
 * Everything that differs between two states of one kind of desk, ranked by how much of it one would hear.
 * @param names a state whose labels name the strips
 */
export function compare(profile: Profile, a: State, b: State, names: State = b): Comparison {
  const changes = drift(profile, a, b);
  const gains = { a: gainsOf(profile, a), b: gainsOf(profile, b) };
  const loudest = { a: loudestOf(gains.a), b: loudestOf(gains.b) };
  const byCell = new Map<string, SettingChange[]>();
  for (const change of changes) {
    const cell = `${change.strip}/${change.section}`;
    const known = byCell.get(cell);
    if (known) known.push(change);
    else byCell.set(cell, [change]);
  }
  const cells = [...byCell.values()].map((own): CellDifference => {
    const [first] = own;
    const { strip, section } = first as SettingChange;
    const isSource = familyOf(strip) === 'in' || familyOf(strip) === 'fx';
    const sides = { profile, strip, section, changes: own, a: a[strip] ?? {}, b: b[strip] ?? {}, names };
    const reach = isSource ? { a: loudest.a.get(strip) ?? -Infinity, b: loudest.b.get(strip) ?? -Infinity } : undefined;
    return { strip, section, changes: own, ...heardOf({ ...sides, loudest: reach }) };
  });
  return {
    cells: cells.sort((one, other) => Number(other.audible) - Number(one.audible) || other.heard - one.heard),
    settings: changes.length,
    strips: [...new Set(changes.map(({ strip }) => strip))],
    gains,
  };
}

/** A state's path gains, remembered for as long as the state is: one of the two is often compared again. */
function gainsOf(profile: Profile, state: State): PathGains {
  const known = remembered.get(state) ?? pathGains(profile, state);
  remembered.set(state, known);
  return known;
}
const remembered = new WeakMap<State, PathGains>();

/** The most that passes from each source to any output, in dB. */
function loudestOf(gains: PathGains): Map<string, number> {
  const most = new Map<string, number>();
  for (const output of Object.values(gains))
    for (const [source, gain] of Object.entries(output))
      most.set(source, Math.max(most.get(source) ?? -Infinity, gain));
  return most;
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
export function outputDifferences({ gains }: Pick<Comparison, 'gains'>): OutputDifference[] {
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
