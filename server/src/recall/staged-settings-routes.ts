import { Router } from 'express';

import { placementShape, type NewPlacement } from '@old-echo/core/contracts/preset';
import { readShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import { forgetOrigin, newPlacement, originsOn, placement } from './staged-settings-store';

export const placementRoutes = (db: Database): Router =>
  Router()
    .post('/', async (req, res) => {
      res.status(201).json(await newPlacement(db, readShape(placementShape, req.body) as NewPlacement));
    })
    .get('/on/:desk', async (req, res) => {
      res.json(await originsOn(db, req.params.desk));
    })
    .delete('/on/:desk/:strip/:preset', async (req, res) => {
      const { desk, strip, preset } = req.params;
      await forgetOrigin(db, desk, strip, preset);
      res.json({});
    })
    .get('/:id', async (req, res) => {
      res.json(await placement(db, req.params.id));
    });
