import { Router } from 'express';

import type { Database } from '../database/connect';
import { verifyStorage } from './verify-storage';

export const storageRoutes = (db: Database): Router =>
  Router().get('/', async (_, res) => {
    res.json(await verifyStorage(db));
  });
