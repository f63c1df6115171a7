import { Router } from 'express';

import type { Database } from '../database/connect';
import { journalChanges, markInterrupted, restoreView } from './store';

export const restoreRoutes = (db: Database): Router =>
  Router()
    .get('/:id', async (req, res) => {
      await markInterrupted(db);
      res.json(await restoreView(db, req.params.id));
    })
    .get('/:id/changes', async (req, res) => {
      res.json(await journalChanges(db, req.params.id));
    });
