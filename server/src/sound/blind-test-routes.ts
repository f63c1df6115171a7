import { Router } from 'express';

import { blindTestShape } from '@old-echo/core/contracts/sound';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { blindTests, saveBlindTest } from './blind-test-store';

export const blindTestRoutes = ({ db }: ServerContext): Router =>
  Router()
    .get('/:a/:b', async (req, res) => {
      res.json(await blindTests(db, req.params.a, req.params.b));
    })
    .post('/', async (req, res) => {
      const test = parseShape(blindTestShape, req.body);
      await saveBlindTest(db, test);
      res.status(201).json(await blindTests(db, test.a, test.b));
    });
