import type { Capture, SceneView } from '@old-echo/core/contracts/scene';
import { Fault } from '@old-echo/core/contracts/fault';

import type { Database } from '../database/connect';
import { deskRow, standOn } from '../desks/store';
import { productionOfVersion } from '../productions/store';
import { insertScene, sceneView } from '../scenes/store';
import type { DeskSession } from '../sessions/session';

/**
 * Stores everything on the desk as a new scene and lets it stand there.
 * @throws Fault `link-lost`, `not-found`, `conflict`
 */
export async function captureScene(db: Database, session: DeskSession, request: Capture): Promise<SceneView> {
  const production = await productionOfVersion(db, request.versionId);
  if (production.deskId !== session.deskId)
    throw new Fault(
      'refused-input',
      'This production is made on another desk.',
      'Choose a production of this desk.',
      'versionId',
    );
  const [desk, state] = await Promise.all([deskRow(db, session.deskId), session.capture()]);
  const scene = await insertScene(db, session.profile, {
    ...request,
    kind: 'scene',
    parents: await parentIn(db, production.id, desk.scene_id),
    state,
    madeAt: new Date(),
  });
  await standOn(db, session.deskId, scene.id);
  return scene;
}

/** The scene that stands on the desk, as the only parent, where it belongs to the production. */
export async function parentIn(db: Database, productionId: string, sceneId: string | null): Promise<string[]> {
  if (sceneId === null) return [];
  const scene = await sceneView(db, sceneId);
  return scene.productionId === productionId ? [sceneId] : [];
}
