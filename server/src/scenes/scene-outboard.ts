import type { OutboardView } from '@old-echo/core/contracts/outboard';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import type { OutboardRow } from '../database/tables';

export const outboardView = ({ id, name, controls, note, photo, revision }: OutboardRow): OutboardView => ({
  id,
  name,
  controls: fromJson(controls),
  note,
  photo,
  revision,
});

/** What stood there when a scene was captured. */
export async function outboardOfScene(db: Database, sceneId: string): Promise<readonly OutboardView[]> {
  const row = await db('scene_outboard').where({ scene_id: sceneId }).first('devices');
  return row ? fromJson(row.devices) : [];
}

/** Keeps with a new scene what stands beside the desk. Call inside the transaction that makes it. */
export async function keepOutboard(tx: Database, sceneId: string, versionId: string): Promise<void> {
  const rows = await tx('outboard')
    .whereIn('production_id', (own) => own.from('versions').where({ id: versionId }).select('production_id'))
    .orderBy('id');
  await storeOutboard(tx, [{ sceneId, devices: rows.map(outboardView) }]);
}

/** The devices that are kept with a scene. */
export interface DevicesOfScene {
  readonly sceneId: string;
  readonly devices: readonly OutboardView[];
}

/** Keeps devices with scenes, as they are at this moment. */
export async function storeOutboard(tx: Database, scenes: readonly DevicesOfScene[]): Promise<void> {
  const rows = scenes
    .filter(({ devices }) => devices.length > 0)
    .map(({ sceneId, devices }) => ({ scene_id: sceneId, devices: toJson(devices) }));
  if (rows.length > 0) await tx('scene_outboard').insert(rows);
}

/** Keeps with a scene what was kept with the one it is made from. */
export const copyOutboard = (tx: Database, sceneId: string, fromSceneId: string): Promise<unknown> =>
  tx.raw('INSERT INTO scene_outboard (scene_id, devices) SELECT ?, devices FROM scene_outboard WHERE scene_id = ?', [
    sceneId,
    fromSceneId,
  ]);
