import { Router } from 'express';

import { venueShape } from '@old-echo/core/contracts/part';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { productionIdParam } from '../http/production-param';
import { removeRow } from '../removed/removed-store';
import { deskOfProduction } from '../scenes/production-store';
import { captureVenue, insertVenue, undoVenueCapture, venues } from './venue-store';

/** The venues a production plays in, mounted under it. */
export const venueRoutes = ({ db, desks }: ServerContext): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      res.json(await venues(db, productionIdParam(req.params)));
    })
    .post('/', async (req, res) => {
      res.status(201).json(await insertVenue(db, productionIdParam(req.params), parseShape(venueShape, req.body)));
    })
    .post('/:id/capture', async (req, res) => {
      const production = productionIdParam(req.params);
      const session = desks.of((await deskOfProduction(db, production)) ?? '');
      res.json(await captureVenue(db, production, req.params.id, await session.capture()));
    })
    .post('/:id/give-back', async (req, res) => {
      res.json(await undoVenueCapture(db, productionIdParam(req.params), req.params.id));
    })
    .delete('/:id', async (req, res) => {
      const { id } = req.params;
      res.json(await removeRow(db, 'venues', { id, production_id: productionIdParam(req.params) }));
    });
