import type { Router } from 'express';

import { STORAGE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';

import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { verifyStorage } from './verify-storage';

export const storageRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(STORAGE_ROUTES, { checkStorage: () => verifyStorage(db) });
