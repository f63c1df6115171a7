import { Router } from 'express';

import type { Database } from '../database/connect';
import { returnManualMoves } from './removed-store';

export const takenOffRoutes = (db: Database): Router =>
  Router().post('/:id/back', async (req, res) => {
    await returnManualMoves(db, req.params.id);
    res.json({});
  });
