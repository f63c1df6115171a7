import { LRUCache } from 'lru-cache';

import type { BaselineView } from '@old-echo/core/contracts/desk';
import type { State } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { baselineLine, sourceName } from '@old-echo/core/phrases/describe-baseline';
import {
  type Baseline,
  type BaselineOrigins,
  type BaselineSource,
  capturedBaseline,
  scenesOfBaseline,
  withSceneReplaced,
} from '@old-echo/core/scenes/baseline';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { fromJson, toJson } from '../database/json-column';
import type { BaselineRow, DeskRow, SceneRow } from '../database/tables';
import { fittingToday, readStoredProfile } from './profile-store';
import { loadState } from './scene-states';

type Written = Pick<BaselineRow, 'state' | 'origins'>;

/** What is written, by its text: every setting of a desk takes a while to parse, and is asked for several times in each restore. */
const parsed = new LRUCache<string, Baseline>({ max: 16 });
const textOf = ({ state, origins }: Written): string => `${origins}\n${state}`;

function baselineIn(row: Written): Baseline {
  const known = parsed.get(textOf(row)) ?? { state: fromJson(row.state), ...fromJson(row.origins) };
  parsed.set(textOf(row), known);
  return known;
}

/** What a desk is meant to hold, or undefined where nothing was ever captured on it or restored to it. */
export async function baselineOf(db: Database, deskId: string): Promise<Baseline | undefined> {
  const row = await db('baselines')
    .join('desks', 'desks.id', 'baselines.desk_id')
    .where({ desk_id: deskId })
    .first<(Written & Pick<DeskRow, 'profile_id'>) | undefined>('state', 'origins', 'profile_id');
  if (row) {
    const baseline = baselineIn(row);
    const state = await fittingToday(db, row.profile_id, baseline.state);
    return state === baseline.state ? baseline : { ...baseline, state };
  }
  const scene = await db('desks')
    .join('scenes', 'scenes.id', 'desks.current_scene_id')
    .where('desks.id', deskId)
    .first<Named | undefined>('scenes.id', 'number', 'scenes.name');
  return scene && capturedBaseline(sourceOf(scene), await loadState(db, scene.id));
}

/** {@link baselineOf}, or undefined where it was damaged: what is done now does not depend on what was. */
export const undamagedBaseline = (db: Database, deskId: string): Promise<Baseline | undefined> =>
  baselineOf(db, deskId).catch((error: unknown) => {
    if (error instanceof Fault && error.code === 'damaged') return undefined;
    throw error;
  });

/** The scenes that what a desk is meant to hold is made of, the one that makes up most of it first. */
export async function baselineScenes(db: Database, { id, current_scene_id }: DeskRow): Promise<string[]> {
  const row = await db('baselines').where({ desk_id: id }).first('origins');
  if (row) return scenesOfBaseline(fromJson(row.origins));
  return current_scene_id === null ? [] : [current_scene_id];
}

/** A scene by its names. */
type Named = Pick<SceneRow, 'id' | 'number' | 'name'>;

export const sourceOf = ({ id, number, name }: Omit<Named, 'id'> & { readonly id: string | null }): BaselineSource => ({
  sceneId: id,
  number: number ?? 0,
  name,
});

/** Says which scene stands on a desk. Where another stood there, the desk is on the song or show of this one from now on. */
export async function setStanding(tx: Database, deskId: string, sceneId: string | null): Promise<void> {
  const another = tx('desks').where({ id: deskId }).whereRaw('NOT (current_scene_id <=> ?)', [sceneId]);
  await another.update({ current_scene_id: sceneId, works_on_id: null });
}

/** Writes what a desk is meant to hold from now on; the scene that makes up most of it stands on the desk. */
export async function setBaseline(tx: Database, deskId: string, baseline: Baseline): Promise<void> {
  const { state, ...origins } = baseline;
  const row = { state: toJson(state), origins: toJson(origins) };
  parsed.set(textOf(row), baseline);
  await tx('baselines')
    .insert({ desk_id: deskId, ...row, revision: 1 })
    .onConflict('desk_id')
    .merge({ ...row, revision: tx.raw('baselines.revision + 1') });
  const scenes = scenesOfBaseline(origins);
  const there = await tx('scenes').whereIn('id', scenes).pluck('id');
  await setStanding(tx, deskId, scenes.find((id) => there.includes(id)) ?? null);
}

/** Counts up whenever what a desk is meant to hold changes; 0 before anything was written of it. */
export const baselineRevision = async (db: Database, deskId: string): Promise<number> =>
  (await db('baselines').where({ desk_id: deskId }).first('revision'))?.revision ?? 0;

/** The same after everything on a desk was captured as a scene. */
export const setCaptured = (tx: Database, deskId: string, scene: Named, state: State): Promise<void> =>
  setBaseline(tx, deskId, capturedBaseline(sourceOf(scene), state));

/** Lets every desk that is meant to hold something of a scene hold what another has instead, which takes its place. */
export async function replaceInBaselines(tx: Database, from: string, to: string): Promise<void> {
  await tx('desks').where({ current_scene_id: from }).update({ current_scene_id: to });
  const desks = await tx('baselines').where('origins', 'like', `%${from}%`).pluck('desk_id');
  if (desks.length === 0) return;
  const scene = found(await tx('scenes').where({ id: to }).first('id', 'number', 'name'));
  const [old, next] = [
    { sceneId: from, state: await loadState(tx, from) },
    { source: sourceOf(scene), state: await loadState(tx, to) },
  ];
  for (const deskId of desks) {
    const baseline = await baselineOf(tx, deskId);
    if (baseline) await setBaseline(tx, deskId, withSceneReplaced(baseline, old, next));
  }
}

/** Where the cells of what a desk is meant to hold came from, with the names that scenes have today. */
export async function baselineOrigins(db: Database, deskId: string): Promise<BaselineOrigins> {
  const baseline = await baselineOf(db, deskId);
  if (!baseline) return { sources: [], cells: {} };
  const { sources, cells } = baseline;
  return named(db, { sources, cells });
}

/** Origins with the names that their scenes have today; what is gone keeps its last. */
async function named(db: Database, { sources, cells }: BaselineOrigins): Promise<BaselineOrigins> {
  const ids = sources.flatMap(({ sceneId }) => sceneId ?? []);
  const scenes = await db('scenes').whereIn('id', ids).select('id', 'number', 'name');
  const today = sources.map((source) => {
    const scene = scenes.find(({ id }) => id === source.sceneId);
    return scene ? sourceOf(scene) : source;
  });
  return { sources: today, cells };
}

/** What a desk is meant to hold, in one line with the names that scenes have today. Its state is asked for by its revision. */
export async function baselineView(
  db: Database,
  { id, profile_id, current_scene_id }: Pick<DeskRow, 'id' | 'profile_id' | 'current_scene_id'>,
): Promise<BaselineView | null> {
  const row = await db('baselines').where({ desk_id: id }).first();
  if (!row) {
    if (current_scene_id === null) return null;
    const scene = await db('scenes').where({ id: current_scene_id }).first('id', 'number', 'name');
    return scene ? { revision: 0, line: sourceName(sourceOf(scene)) } : null;
  }
  const { state, ...origins } = baselineIn(row);
  const line = baselineLine(await readStoredProfile(db, profile_id), { state, ...(await named(db, origins)) });
  return { revision: row.revision, line };
}
