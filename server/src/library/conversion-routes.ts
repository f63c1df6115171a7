import { Router } from 'express';
import type { Logger } from 'pino';

import { beginCarryShape, carryShape } from '@old-echo/core/contracts/conversion';
import { readShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import type { Live } from '../live/live-channel';
import type { AtWork } from '../jobs/background-tasks';
import type { Sessions } from '../desk/desk-connections';
import { previewCarry } from './plan-conversion';
import { carryReport } from './conversion-report-page';
import { askToCancel, beginCarry, carrying } from './conversion-store';

export function carryingRoutes(db: Database, sessions: Sessions, live: Live, atWork: AtWork, log: Logger): Router {
  const onMade = (production: string) => {
    live.productionsChanged();
    void live.scenesChanged(production);
  };
  return Router()
    .post('/preview', async (req, res) => {
      res.json(await previewCarry(db, sessions, readShape(carryShape, req.body)));
    })
    .post('/', async (req, res) => {
      const tools = { db, sessions, atWork, log, onMade };
      res.status(202).json(await beginCarry(tools, readShape(beginCarryShape, req.body)));
    })
    .get('/:id', async (req, res) => {
      res.json(await carrying(db, req.params.id));
    })
    .get('/:id/report.html', async (req, res) => {
      res.type('html').send(carryReport(await carrying(db, req.params.id)));
    })
    .post('/:id/cancel', async (req, res) => {
      await askToCancel(db, req.params.id);
      res.json(await carrying(db, req.params.id));
    });
}
