import type { Router } from 'express';

import { CAPTURE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import type { SceneView } from '@old-echo/core/contracts/scene';

import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { captureScene } from './capture-scene';
import { replaceScene, undoReplacement } from './replace-scene';

/** Below a desk: capturing what is on it. `lease` is how long that may hold it, in ms. */
export function captureRoutes({ db, desks, live, lease }: ServerContext): Router {
  const told = async (deskId: string, scene: SceneView) => {
    await Promise.all([live.deskChanged(deskId), live.scenesChanged(scene.productionId)]);
    return scene;
  };
  return serveRoutes(CAPTURE_ROUTES, {
    captureScene: async ({ params, body }) => told(params.id, await captureScene(db, desks.of(params.id), body, lease)),
    replaceScene: async ({ params, body }) => told(params.id, await replaceScene(db, desks.of(params.id), body, lease)),
    undoReplacement: async ({ params }) => told(params.id, await undoReplacement(db, params.id)),
  });
}
