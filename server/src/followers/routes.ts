import { Router } from 'express';

import { takeOverShape } from '@old-echo/core/contracts/following';
import { readShape } from '@old-echo/core/contracts/read';

import type { Database } from '../database/connect';
import type { Live } from '../live/live';
import { productionOf } from '../productions/named';
import { followers, takeOver } from './store';

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
