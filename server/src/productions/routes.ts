import { Router } from 'express';

import type { Database } from '../database/connect';
import { productionScenes } from '../scenes/store';
import { productionViews } from './store';

export const productionRoutes = (db: Database): Router =>
  Router()
    .get('/', async (_, res) => {
      res.json(await productionViews(db));
    })
    .get('/:id/scenes', async (req, res) => {
      res.json(await productionScenes(db, req.params.id));
    });
