import { Router } from 'express';

import { partsShape, type NewParts } from '@old-echo/core/contracts/part';
import { readShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import { productionOf } from '../http/production-param';
import { partsOf, setParts } from './part-store';

/** What the strips of a production carry, mounted under it. */
export const partRoutes = (db: Database): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      res.json(await partsOf(db, productionOf(req.params)));
    })
    .put('/', async (req, res) => {
      res.json(await setParts(db, productionOf(req.params), readShape(partsShape, req.body) as NewParts));
    });
