import { Router } from 'express';

import { readShape } from '@old-echo/core/contracts/read';
import { sceneEditShape } from '@old-echo/core/contracts/scene';

import type { Database } from '../database/connect';
import type { Live } from '../live/live';
import { editScene, sceneView } from './store';
import { loadState } from './strip-states';

export const sceneRoutes = (db: Database, live: Live): Router =>
  Router()
    .get('/:id', async (req, res) => {
      res.json(await sceneView(db, req.params.id));
    })
    .get('/:id/state', async (req, res) => {
      const scene = await sceneView(db, req.params.id);
      // A scene's state never changes, so whoever has it need not ask again.
      res.set('Cache-Control', 'private, max-age=31536000, immutable').json(await loadState(db, scene.id));
    })
    .patch('/:id', async (req, res) => {
      const scene = await editScene(db, req.params.id, readShape(sceneEditShape, req.body));
      await live.scenesChanged(scene.productionId);
      res.json(scene);
    });
