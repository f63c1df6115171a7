import { Router } from 'express';

import { captureShape, replaceShape } from '@old-echo/core/contracts/scene';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { captureScene, replaceScene } from './capture-scene';

/** Below a desk: capturing what is on it. `lease` is how long that may hold it, in ms. */
export const captureRoutes = ({ db, desks, live, lease }: ServerContext): Router =>
  Router()
    .post('/:id/captures', async (req, res) => {
      const request = parseShape(captureShape, req.body);
      const scene = await captureScene(db, desks.of(req.params.id), request, lease);
      await Promise.all([live.deskChanged(req.params.id), live.scenesChanged(scene.productionId)]);
      res.status(201).json(scene);
    })
    .post('/:id/scene-replacements', async (req, res) => {
      const request = parseShape(replaceShape, req.body);
      const scene = await replaceScene(db, desks.of(req.params.id), request, lease);
      await Promise.all([live.deskChanged(req.params.id), live.scenesChanged(scene.productionId)]);
      res.status(201).json(scene);
    });
