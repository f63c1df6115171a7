import { Router } from 'express';

import { hallShape } from '@old-echo/core/contracts/part';
import { readShape } from '@old-echo/core/contracts/read';

import type { Database } from '../database/connect';
import { productionOf } from '../productions/named';
import { deskOfProduction } from '../productions/store';
import type { Sessions } from '../sessions/sessions';
import { takeOff } from '../taken-off/store';
import { giveHallBack, halls, insertHall, takeHall } from './store';

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
