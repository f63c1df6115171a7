import { Router } from 'express';

import { captureShape, replaceShape } from '@old-echo/core/contracts/scene';
import { readShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import type { Sessions } from '../desk/desk-connections';
import type { Live } from '../live/live-channel';
import { captureScene, replaceScene } from './capture-scene';

/** Below a desk: capturing what is on it. `lease` is how long that may hold it, in ms. */
export const captureRoutes = (db: Database, sessions: Sessions, live: Live, lease: number): Router =>
  Router()
    .post('/:id/captures', async (req, res) => {
      const request = readShape(captureShape, req.body);
      const scene = await captureScene(db, sessions.of(req.params.id), request, lease);
      await Promise.all([live.deskChanged(req.params.id), live.scenesChanged(scene.productionId)]);
      res.status(201).json(scene);
    })
    .post('/:id/replacements', async (req, res) => {
      const request = readShape(replaceShape, req.body);
      const scene = await replaceScene(db, sessions.of(req.params.id), request, lease);
      await Promise.all([live.deskChanged(req.params.id), live.scenesChanged(scene.productionId)]);
      res.status(201).json(scene);
    });
