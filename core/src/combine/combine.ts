import { sectionOf } from '../desk/address';
import { type Profile, stripFamily } from '../desk/profile';
import { filled, type State } from '../desk/state';
import { cellOf, type Conflict, mergeStates } from './merge-states';
import type { Picks, Recipe } from './recipe';

export interface CombineResult {
  readonly state: State;
  /** The scenes that cells come from, of those that do not come from the base. */
  readonly origins: Picks;
  /** All cells in which two lines are at odds; those that are not settled stand as in the base. */
  readonly conflicts: readonly Conflict[];
  readonly unsettled: readonly Conflict[];
  /** Picked cells that this kind of desk, or the scene they were picked from, does not have. */
  readonly missing: readonly string[];
}

/** The scene that a recipe makes. No scene it is made from is changed. `stateOf` knows all of {@link scenesOf}. */
export function combine(profile: Profile, recipe: Recipe, stateOf: (scene: string) => State): CombineResult {
  const { base, merge, picks } = recipe;
  // Of a scene that is a part of a desk, what it lacks is not removed: nothing is said of it.
  const merged = merge
    ? mergeStates(profile, stateOf(merge.parent), stateOf(base), filled(stateOf(merge.scene), stateOf(merge.parent)))
    : { state: stateOf(base), taken: [], conflicts: [] };
  const atOdds = new Map(merged.conflicts.map((conflict) => [cellOf(conflict), conflict]));
  const state = { ...merged.state };
  const origins = new Map(merge ? merged.taken.map((cell) => [cell, merge.scene] as const) : []);
  const missing: string[] = [];
  for (const [cell, scene] of Object.entries(picks)) {
    const [strip = '', section = ''] = cell.split('/');
    const [own, other] = [state[strip], stateOf(scene)[strip]];
    const conflict = scene === merge?.scene ? atOdds.get(cell) : undefined;
    const keys = conflict
      ? conflict.changes.map(({ key }) => key)
      : (stripFamily(profile, strip)?.keys ?? []).filter((key) => sectionOf(key) === section);
    const values = keys.flatMap((key) => (other?.[key] === undefined ? [] : [[key, other[key]] as const]));
    if (!own || values.length === 0) {
      missing.push(cell);
      continue;
    }
    // What settles a conflict in favour of the base leaves all that was taken besides.
    if (scene === base && atOdds.has(cell)) continue;
    state[strip] = { ...own, ...Object.fromEntries(values) };
    if (scene === base) origins.delete(cell);
    else origins.set(cell, scene);
  }
  const unsettled = merged.conflicts.filter((conflict) => picks[cellOf(conflict)] === undefined);
  return { state, origins: Object.fromEntries(origins), conflicts: merged.conflicts, unsettled, missing };
}
