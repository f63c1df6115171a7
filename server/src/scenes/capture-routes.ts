import { Router } from 'express';

import { captureShape, replaceShape } from '@old-echo/core/contracts/scene';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import type { DeskConnections } from '../desk/desk-connections';
import type { LiveChannel } from '../live/live-channel';
import { captureScene, replaceScene } from './capture-scene';

/** Below a desk: capturing what is on it. `lease` is how long that may hold it, in ms. */
export const captureRoutes = (db: Database, sessions: DeskConnections, live: LiveChannel, lease: number): Router =>
  Router()
    .post('/:id/captures', async (req, res) => {
      const request = parseShape(captureShape, req.body);
      const scene = await captureScene(db, sessions.of(req.params.id), request, lease);
      await Promise.all([live.deskChanged(req.params.id), live.scenesChanged(scene.productionId)]);
      res.status(201).json(scene);
    })
    .post('/:id/replacements', async (req, res) => {
      const request = parseShape(replaceShape, req.body);
      const scene = await replaceScene(db, sessions.of(req.params.id), request, lease);
      await Promise.all([live.deskChanged(req.params.id), live.scenesChanged(scene.productionId)]);
      res.status(201).json(scene);
    });
