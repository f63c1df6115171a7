import { Router } from 'express';

import { moveTargetShape, sceneEditShape, type SceneView } from '@old-echo/core/contracts/scene';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { productionMustBeUnlocked } from '../desk/show-lock';
import { countChanges, loadState } from '../desk/strip-states';
import { emptyBin } from './delete-scenes';
import { copyScene } from './insert-scene';
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
  return Router()
    .get('/:id', async (req, res) => {
      res.json(await sceneView(db, req.params.id));
    })
    .get('/:id/state', async (req, res) => {
      const { id } = await sceneRow(db, req.params.id);
      res.set('Cache-Control', FOR_GOOD).json(await loadState(db, id));
    })
    .get('/:id/change-count/:other', async (req, res) => {
      const [a, b] = await Promise.all([sceneRow(db, req.params.id), sceneRow(db, req.params.other)]);
      const profile = await profileOfProduction(db, a.production_id);
      res.set('Cache-Control', FOR_GOOD).json(await countChanges(db, profile, a.id, b.id));
    })
    .patch('/:id', async (req, res) => {
      res.json(await told(await editScene(db, req.params.id, parseShape(sceneEditShape, req.body))));
    })
    .post('/:id/copy', async (req, res) => {
      res.status(201).json(await told(await copyScene(db, req.params.id, parseShape(moveTargetShape, req.body))));
    })
    .post('/:id/move', async (req, res) => {
      const { production_id } = await sceneRow(db, req.params.id);
      const moved = await moveScene(db, req.params.id, parseShape(moveTargetShape, req.body).versionId);
      res.json(await told(moved, production_id));
    })
    .post('/:id/bin', async (req, res) => {
      await productionMustBeUnlocked(db, (await sceneRow(db, req.params.id)).production_id);
      res.json(await told(await binScene(db, req.params.id)));
    })
    .post('/:id/unbin', async (req, res) => {
      res.json(await told(await unbinScene(db, req.params.id)));
    })
    .delete('/:id', async (req, res) => {
      const { production_id, id } = await sceneRow(db, req.params.id);
      await productionMustBeUnlocked(db, production_id);
      await emptyBin(db, await profileOfProduction(db, production_id), production_id, id);
      await live.scenesChanged(production_id);
      res.json({});
    });
}
