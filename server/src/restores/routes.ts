import { Router } from 'express';

import type { Database } from '../database/connect';
import { markInterrupted, restoreView } from './store';

export const restoreRoutes = (db: Database): Router =>
  Router().get('/:id', async (req, res) => {
    await markInterrupted(db);
    res.json(await restoreView(db, req.params.id));
  });
