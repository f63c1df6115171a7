import type { Router } from 'express';

import { FOLLOWER_ROUTES } from '@old-echo/core/contracts/routes/combine-routes';

import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { catchUp, followers } from './follower-store';

export const followerRoutes = ({ db, live }: ServerContext): Router =>
  serveRoutes(FOLLOWER_ROUTES, {
    followers: ({ params }) => followers(db, params.production),
    catchUp: async ({ params, body }) => {
      try {
        return await catchUp(db, params.production, body);
      } finally {
        live.productionsChanged();
        await live.scenesChanged(params.production);
      }
    },
  });
