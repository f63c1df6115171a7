import { Router } from 'express';

import { catchUpShape } from '@old-echo/core/contracts/follower';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { productionIdParam } from '../http/production-param';
import { catchUp, followers } from './follower-store';

/** Versions of a production that follow others, mounted under it. */
export const followerRoutes = ({ db, live }: ServerContext): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      res.json(await followers(db, productionIdParam(req.params)));
    })
    .post('/catch-up', async (req, res) => {
      const production = productionIdParam(req.params);
      try {
        res.json(await catchUp(db, production, parseShape(catchUpShape, req.body).versions));
      } finally {
        live.productionsChanged();
        await live.scenesChanged(production);
      }
    });
