import type { Router } from 'express';

import { SCENE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';
import type { SceneView } from '@old-echo/core/contracts/scene';

import { countChanges, loadState } from '../desk/scene-states';
import type { ServerContext } from '../desk/server-context';
import { productionMustBeUnlocked } from '../desk/show-lock';
import { DONE, serveRoutes } from '../http/serve-routes';
import { emptyBin } from './delete-scenes';
import { copyScene } from './insert-scene';
import { sceneNeighbours } from './list-scenes';
import { profileOfProduction } from './production-store';
import { binScene, moveScene, unbinScene } from './scene-bin';
import { editScene, sceneRow, sceneView } from './scene-store';

/** What never changes: whoever has it need not ask again. */
const FOR_GOOD = 'private, max-age=31536000, immutable';

export function sceneRoutes({ db, live }: ServerContext): Router {
  const told = async (scene: SceneView, ...others: string[]) => {
    for (const productionId of new Set([scene.productionId, ...others])) await live.scenesChanged(productionId);
    return scene;
  };
  return serveRoutes(SCENE_ROUTES, {
    scene: ({ params }) => sceneView(db, params.id),
    sceneState: async ({ params, res }) => {
      const { id } = await sceneRow(db, params.id);
      res.set('Cache-Control', FOR_GOOD);
      return loadState(db, id);
    },
    neighbours: async ({ params }) => sceneNeighbours(db, await sceneRow(db, params.id)),
    changeCount: async ({ params, res }) => {
      const [a, b] = await Promise.all([sceneRow(db, params.id), sceneRow(db, params.other)]);
      const profile = await profileOfProduction(db, a.production_id);
      res.set('Cache-Control', FOR_GOOD);
      return countChanges(db, profile, a.id, b.id);
    },
    editScene: async ({ params, body }) => told(await editScene(db, params.id, body)),
    copyScene: async ({ params, body }) => told(await copyScene(db, params.id, body)),
    moveScene: async ({ params, body }) => {
      const { production_id } = await sceneRow(db, params.id);
      return told(await moveScene(db, params.id, body.versionId), production_id);
    },
    binScene: async ({ params }) => {
      await productionMustBeUnlocked(db, (await sceneRow(db, params.id)).production_id);
      return told(await binScene(db, params.id));
    },
    unbinScene: async ({ params }) => told(await unbinScene(db, params.id)),
    deleteScene: async ({ params }) => {
      const { production_id, id } = await sceneRow(db, params.id);
      await productionMustBeUnlocked(db, production_id);
      await emptyBin(db, await profileOfProduction(db, production_id), production_id, id);
      await live.scenesChanged(production_id);
      return DONE;
    },
  });
}
