import { Router } from 'express';

import { hallShape } from '@old-echo/core/contracts/part';
import { readShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import { productionOf } from '../http/production-param';
import { deskOfProduction } from '../scenes/production-store';
import type { Sessions } from '../desk/desk-connections';
import { takeOff } from '../removed/removed-store';
import { giveHallBack, halls, insertHall, takeHall } from './venue-store';

/** The halls a production plays in, mounted under it. */
export const hallRoutes = (db: Database, sessions: Sessions): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      res.json(await halls(db, productionOf(req.params)));
    })
    .post('/', async (req, res) => {
      res.status(201).json(await insertHall(db, productionOf(req.params), readShape(hallShape, req.body)));
    })
    .post('/:id/take', async (req, res) => {
      const production = productionOf(req.params);
      const session = sessions.of((await deskOfProduction(db, production)) ?? '');
      res.json(await takeHall(db, production, req.params.id, await session.capture()));
    })
    .post('/:id/give-back', async (req, res) => {
      res.json(await giveHallBack(db, productionOf(req.params), req.params.id));
    })
    .delete('/:id', async (req, res) => {
      const { id } = req.params;
      res.json(await takeOff(db, 'halls', { id, production_id: productionOf(req.params) }));
    });
