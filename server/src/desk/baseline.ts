import type { BaselineView } from '@old-echo/core/contracts/desk';
import type { State } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { baselineLine, sourceName } from '@old-echo/core/phrases/describe-baseline';
import {
  type Baseline,
  type BaselineSource,
  capturedBaseline,
  scenesOfBaseline,
  withSceneReplaced,
} from '@old-echo/core/scenes/baseline';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { fromJson, toJson } from '../database/json-column';
import type { BaselineRow, DeskRow, SceneRow } from '../database/tables';
import { readStoredProfile } from './profile-store';
import { loadState } from './strip-states';

const baselineIn = ({ state, origins }: Pick<BaselineRow, 'state' | 'origins'>): Baseline => ({
  state: fromJson(state),
  ...fromJson(origins),
});

/** What a desk is meant to hold, or undefined where nothing was ever captured on it or restored to it. */
export async function baselineOf(db: Database, deskId: string): Promise<Baseline | undefined> {
  const row = await db('baselines').where({ desk_id: deskId }).first();
  if (row) return baselineIn(row);
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

/** Writes what a desk is meant to hold from now on; the scene that makes up most of it stands on the desk. */
export async function setBaseline(tx: Database, deskId: string, baseline: Baseline): Promise<void> {
  const { state, ...origins } = baseline;
  const row = { state: toJson(state), origins: toJson(origins) };
  await tx('baselines')
    .insert({ desk_id: deskId, ...row, revision: 1 })
    .onConflict('desk_id')
    .merge({ ...row, revision: tx.raw('baselines.revision + 1') });
  const scenes = scenesOfBaseline(origins);
  const there = await tx('scenes').whereIn('id', scenes).pluck('id');
  await tx('desks')
    .where({ id: deskId })
    .update({ current_scene_id: scenes.find((id) => there.includes(id)) ?? null });
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
  const { state, sources, cells } = baselineIn(row);
  const scenes = await db('scenes')
    .whereIn(
      'id',
      sources.flatMap(({ sceneId }) => sceneId ?? []),
    )
    .select('id', 'number', 'name');
  const today = sources.map((source) => {
    const scene = scenes.find(({ id: sceneId }) => sceneId === source.sceneId);
    return scene ? sourceOf(scene) : source;
  });
  const line = baselineLine(await readStoredProfile(db, profile_id), { state, sources: today, cells });
  return { revision: row.revision, line };
}
