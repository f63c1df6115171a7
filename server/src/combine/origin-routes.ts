import { Router } from 'express';

import type { Database } from '../database/connect';
import { originsOf } from './combination-store';

/** Below a scene: which scene each of its cells came from. */
export const originRoutes = (db: Database): Router =>
  Router().get('/:id/origins', async (req, res) => {
    res.json(await originsOf(db, req.params.id));
  });
