import type { Router } from 'express';

import { REMOVAL_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';

import type { ServerContext } from '../desk/server-context';
import { DONE, serveRoutes } from '../http/serve-routes';
import { undoRemoval } from './removed-store';

export const removalRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(REMOVAL_ROUTES, {
    undoRemoval: async ({ params }) => {
      await undoRemoval(db, params.id);
      return DONE;
    },
  });
