import { readAddress, sectionOf } from '../desk/address';
import { GLOBAL_FAMILY } from '../desk/profile-source';
import type { Value } from '../desk/setting';
import { type State, type StripState, withSettings } from '../desk/state';

/** Where cells of a baseline came from: a scene, or something else by its name. */
export interface BaselineSource {
  /** Null where it was no scene. */
  readonly sceneId: string | null;
  /** 0 where it was no scene. */
  readonly number: number;
  readonly name: string;
}

/**
 * What a desk is meant to hold after the last capture or restore: what was captured, and over it, cell by cell, what was
 * restored and confirmed since. Drift is counted from it, and putting back leads to it.
 */
export interface Baseline {
  /** Partial where nothing was ever captured. */
  readonly state: State;
  /** In the order in which they came. */
  readonly sources: readonly BaselineSource[];
  /** Per cell (`in.7/eq`) the sources it came from, by their place; several where only settings of it were restored. */
  readonly cells: Readonly<Record<string, readonly number[]>>;
}

/** Where all of a baseline came from, without what it holds. */
export type BaselineOrigins = Pick<Baseline, 'sources' | 'cells'>;

const cellsOf = (state: State): string[] =>
  Object.entries(state).flatMap(([strip, settings]) =>
    [...new Set(Object.keys(settings).map(sectionOf))].map((section) => `${strip}/${section}`),
  );

/** The baseline after everything on a desk was captured. */
export const capturedBaseline = (source: BaselineSource, state: State): Baseline => ({
  state,
  sources: [source],
  cells: Object.fromEntries(cellsOf(state).map((cell) => [cell, [0]])),
});

/**
 * The baseline after settings were restored from a source and confirmed.
 * @param restored what was chosen, each as it was read back; also where the desk held it already
 */
export function restoredOver(
  before: Baseline = { state: {}, sources: [], cells: {} },
  source: BaselineSource,
  restored: State,
): Baseline {
  if (Object.keys(restored).length === 0) return before;
  const state: Record<string, StripState> = { ...before.state };
  const cells: Record<string, readonly number[]> = { ...before.cells };
  const at = before.sources.length;
  for (const [strip, settings] of Object.entries(restored)) {
    const own = before.state[strip];
    // What came back whole is kept as it came: a desk has thousands of settings, and most restores are of all of them.
    const held = own === undefined || hasKeysOf(settings, own) ? settings : { ...own, ...settings };
    state[strip] = held;
    const all = countSections(held);
    for (const [section, count] of countSections(settings)) {
      const cell = `${strip}/${section}`;
      cells[cell] = count === all.get(section) ? [at] : [...(before.cells[cell] ?? []), at];
    }
  }
  return pruned({ state, sources: [...before.sources, source], cells });
}

function hasKeysOf(settings: StripState, other: StripState): boolean {
  for (const key in other) if (settings[key] === undefined) return false;
  return true;
}

/** How many settings of each section strips have; kept for as long as they are, since they are never changed in place. */
const counted = new WeakMap<StripState, ReadonlyMap<string, number>>();

function countSections(settings: StripState): ReadonlyMap<string, number> {
  const known = counted.get(settings);
  if (known) return known;
  const counts = new Map<string, number>();
  counted.set(settings, counts);
  for (const key in settings) {
    const section = sectionOf(key);
    counts.set(section, (counts.get(section) ?? 0) + 1);
  }
  return counts;
}

/** What a restore replaces of a baseline, so that its way back can give it back. */
export interface Replaced {
  readonly sources: readonly BaselineSource[];
  /** The cells that the restore is about, with where they came from; empty where nothing was known of one. */
  readonly cells: Readonly<Record<string, readonly number[]>>;
  /** The settings that were to be others before, by address; null where nothing was known of one. */
  readonly settings: Readonly<Record<string, Value | null>>;
}

/** @param restored what a restore chose, as it is to stand */
export function replacedBy(before: Baseline | undefined, restored: State): Replaced {
  const { state = {}, sources = [], cells = {} } = before ?? {};
  const touched: Record<string, readonly number[]> = {};
  const old: Record<string, Value | null> = {};
  for (const [strip, settings] of Object.entries(restored)) {
    for (const section of countSections(settings).keys())
      touched[`${strip}/${section}`] = cells[`${strip}/${section}`] ?? [];
    const held = state[strip];
    if (held === settings) continue;
    for (const key in settings) {
      const was = held?.[key] ?? null;
      if (was !== settings[key]) old[`${strip}/${key}`] = was;
    }
  }
  return { sources, cells: touched, settings: old };
}

/**
 * The baseline after a way back was restored and confirmed: what the restore it leads back from had replaced is what it was,
 * as far as it came back. Cells of which something did not come back keep both of their sources.
 */
export function givenBack(before: Baseline, replaced: Replaced, restored: State): Baseline {
  // In the order in which they came: those of then, and what came after it.
  const sources = [...replaced.sources];
  const placeOf = before.sources.map((source) => {
    const known = sources.findIndex((other) => isSame(source, other));
    return known >= 0 ? known : sources.push(source) - 1;
  });
  const strips = new Map<string, Map<string, Value>>();
  const missing = new Set<string>();
  for (const [address, was] of Object.entries(replaced.settings)) {
    const parts = readAddress(address);
    if (!parts) continue;
    if (restored[parts.strip]?.[parts.key] === undefined) missing.add(`${parts.strip}/${parts.section}`);
    else {
      const strip = strips.get(parts.strip) ?? new Map(Object.entries(before.state[parts.strip] ?? {}));
      strips.set(parts.strip, strip);
      if (was === null) strip.delete(parts.key);
      else strip.set(parts.key, was);
    }
  }
  const cells = new Map<string, readonly number[]>();
  for (const [cell, from] of Object.entries(before.cells))
    cells.set(
      cell,
      from.flatMap((i) => placeOf[i] ?? []),
    );
  for (const [cell, from] of Object.entries(replaced.cells))
    if (missing.has(cell)) cells.set(cell, [...(cells.get(cell) ?? []), ...from]);
    else if (from.length > 0) cells.set(cell, from);
    else cells.delete(cell);
  const given = Object.fromEntries([...strips].map(([strip, settings]) => [strip, Object.fromEntries(settings)]));
  return pruned({ state: { ...before.state, ...given }, sources, cells: Object.fromEntries(cells) });
}

/** The baseline once a scene it is made of was replaced by another: with what that holds otherwise, in the cells from it. */
export function withSceneReplaced(
  baseline: Baseline,
  old: { readonly sceneId: string; readonly state: State },
  next: { readonly source: BaselineSource; readonly state: State },
): Baseline {
  const moved: Record<string, Value> = {};
  for (const [cell, from] of Object.entries(baseline.cells)) {
    const [strip = '', section] = cell.split('/');
    const [was, is] = [old.state[strip], next.state[strip]];
    if (was === is || !from.every((i) => baseline.sources[i]?.sceneId === old.sceneId)) continue;
    for (const [key, value] of Object.entries(is ?? {}))
      if (sectionOf(key) === section && was?.[key] !== value) moved[`${strip}/${key}`] = value;
  }
  const sources = baseline.sources.map((source) => (source.sceneId === old.sceneId ? next.source : source));
  return { ...baseline, state: withSettings(baseline.state, moved), sources };
}

/** Without the sources of which nothing is left; the same source twice is one. */
function pruned({ state, sources, cells }: Baseline): Baseline {
  const used = new Set(Object.values(cells).flat());
  const kept: BaselineSource[] = [];
  const places = new Map<number, number>();
  // The newest of those that are the same keeps its place, so that the order still tells which came last.
  sources.forEach((source, i) => {
    if (!used.has(i)) return;
    const later = sources.findIndex((other, j) => j > i && used.has(j) && isSame(source, other));
    if (later < 0) places.set(i, kept.push(source) - 1);
  });
  const placeOf = (i: number): number =>
    places.get(i) ?? placeOf(sources.findIndex((other, j) => j > i && used.has(j) && isSame(sources[i], other)));
  return {
    state,
    sources: kept,
    cells: Object.fromEntries(Object.entries(cells).map(([cell, list]) => [cell, [...new Set(list.map(placeOf))]])),
  };
}

const isSame = (one: BaselineSource | undefined, other: BaselineSource): boolean =>
  one?.sceneId === other.sceneId && one.number === other.number && one.name === other.name;

/** The places of the sources by how many cells they alone make up, the most first; of equal ones the newest first. */
export function byShare({ sources, cells }: BaselineOrigins): number[] {
  const share = sources.map(() => 0);
  for (const [cell, [first, ...others]] of Object.entries(cells))
    if (first !== undefined && others.length === 0 && !cell.startsWith(`${GLOBAL_FAMILY}.`))
      share[first] = (share[first] ?? 0) + 1;
  return sources.map((_, i) => i).sort((a, b) => Number(share[b]) - Number(share[a]) || b - a);
}

/** The scenes a baseline is made of, the one that makes up most of it first. */
export const scenesOfBaseline = (baseline: BaselineOrigins): string[] =>
  byShare(baseline).flatMap((i) => baseline.sources[i]?.sceneId ?? []);
