import { Router } from 'express';

import { takeOverShape } from '@old-echo/core/contracts/follower';
import { readShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import type { Live } from '../live/live-channel';
import { productionOf } from '../http/production-param';
import { followers, takeOver } from './follower-store';

/** Versions of a production that follow others, mounted under it. */
export const followerRoutes = (db: Database, live: Live): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      res.json(await followers(db, productionOf(req.params)));
    })
    .post('/', async (req, res) => {
      const production = productionOf(req.params);
      try {
        res.json(await takeOver(db, production, readShape(takeOverShape, req.body).versions));
      } finally {
        live.productionsChanged();
        await live.scenesChanged(production);
      }
    });
