import { Router } from 'express';

import type { Database } from '../database/connect';
import { giveBack } from './removed-store';

export const takenOffRoutes = (db: Database): Router =>
  Router().post('/:id/back', async (req, res) => {
    await giveBack(db, req.params.id);
    res.json({});
  });
