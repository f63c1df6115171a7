import { Router } from 'express';

import { partsShape } from '@old-echo/core/contracts/part';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { productionIdParam } from '../http/production-param';
import { loadParts, setParts } from './part-store';

/** What the strips of a production carry, mounted under it. */
export const partRoutes = ({ db }: ServerContext): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      res.json(await loadParts(db, productionIdParam(req.params)));
    })
    .put('/', async (req, res) => {
      res.json(await setParts(db, productionIdParam(req.params), parseShape(partsShape, req.body)));
    });
