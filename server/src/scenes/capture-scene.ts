import type { Capture, SceneView } from '@old-echo/core/contracts/scene';

import type { Database } from '../database/connect';
import type { DeskRow } from '../database/tables';
import { baselineScenes, setCaptured } from '../desk/baseline';
import { readWhole } from '../desk/desk-lease';
import type { DeskMirror } from '../desk/desk-mirror';
import { deskRow } from '../desk/desk-store';
import { armSwap } from './arm-swap';
import { insertScene } from './insert-scene';
import { assertProductionOnDesk } from './production-store';
import { versionRow } from './version-store';

/**
 * Stores everything on the desk as a new scene and lets it stand there.
 * @throws Fault `link-lost`, `not-found`, `conflict`, `desk-busy` in the middle of a restore
 */
export async function captureScene(
  db: Database,
  session: DeskMirror,
  request: Capture,
  lease: number,
): Promise<SceneView> {
  const { production_id } = await versionRow(db, request.versionId);
  await assertProductionOnDesk(db, session.deskId, production_id);
  const state = await readWhole(db, session, lease);
  const desk = await deskRow(db, session.deskId);
  return insertScene(
    db,
    session.profile,
    {
      ...request,
      kind: 'scene',
      parents: await parentsIn(db, production_id, desk),
      state,
      madeAt: new Date(),
    },
    {
      after: async (tx, scene) => {
        await setCaptured(tx, session.deskId, scene, state);
        await armSwap(tx, desk, { id: scene.id, productionId: production_id });
      },
    },
  );
}

/** At most so many scenes count as parents of what is captured. */
const MAX_PARENTS = 8;

/**
 * What a capture descends from: the scenes that the desk's baseline is made of, the one that makes up most of it first, as
 * far as they belong to the production.
 */
export async function parentsIn(db: Database, productionId: string, desk: DeskRow): Promise<string[]> {
  if (desk.current_scene_id === null) return [];
  const scenes = await baselineScenes(db, desk);
  const own = await db('scenes').whereIn('id', scenes).where({ production_id: productionId }).pluck('id');
  return scenes.filter((id) => own.includes(id)).slice(0, MAX_PARENTS);
}
