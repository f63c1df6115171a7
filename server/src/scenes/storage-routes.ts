import { Router } from 'express';

import type { ServerContext } from '../desk/server-context';
import { verifyStorage } from './verify-storage';

export const storageRoutes = ({ db }: ServerContext): Router =>
  Router().get('/', async (_, res) => {
    res.json(await verifyStorage(db));
  });
