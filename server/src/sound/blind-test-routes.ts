import { Router } from 'express';

import { readShape } from '@old-echo/core/fault/parse-shape';
import { blindTestShape } from '@old-echo/core/contracts/sound';

import type { Database } from '../database/connect';
import { blindTests, keepBlindTest } from './blind-test-store';

export const blindTestRoutes = (db: Database): Router =>
  Router()
    .get('/:a/:b', async (req, res) => {
      res.json(await blindTests(db, req.params.a, req.params.b));
    })
    .post('/', async (req, res) => {
      const test = readShape(blindTestShape, req.body);
      await keepBlindTest(db, test);
      res.status(201).json(await blindTests(db, test.a, test.b));
    });
