import { Router } from 'express';

import { hallShape } from '@old-echo/core/contracts/part';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import { productionIdParam } from '../http/production-param';
import { deskOfProduction } from '../scenes/production-store';
import type { DeskConnections } from '../desk/desk-connections';
import { takeOff } from '../removed/removed-store';
import { giveHallBack, halls, insertHall, captureVenue } from './venue-store';

/** The halls a production plays in, mounted under it. */
export const hallRoutes = (db: Database, sessions: DeskConnections): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      res.json(await halls(db, productionIdParam(req.params)));
    })
    .post('/', async (req, res) => {
      res.status(201).json(await insertHall(db, productionIdParam(req.params), parseShape(hallShape, req.body)));
    })
    .post('/:id/take', async (req, res) => {
      const production = productionIdParam(req.params);
      const session = sessions.of((await deskOfProduction(db, production)) ?? '');
      res.json(await captureVenue(db, production, req.params.id, await session.capture()));
    })
    .post('/:id/give-back', async (req, res) => {
      res.json(await giveHallBack(db, productionIdParam(req.params), req.params.id));
    })
    .delete('/:id', async (req, res) => {
      const { id } = req.params;
      res.json(await takeOff(db, 'halls', { id, production_id: productionIdParam(req.params) }));
    });
