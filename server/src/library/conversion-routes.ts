import { Router } from 'express';
import type { Logger } from 'pino';

import { startConversionShape, conversionShape } from '@old-echo/core/contracts/conversion';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import type { LiveChannel } from '../live/live-channel';
import type { BackgroundTasks } from '../jobs/background-tasks';
import type { DeskConnections } from '../desk/desk-connections';
import { previewCarry } from './plan-conversion';
import { carryReport } from './conversion-report-page';
import { askToCancel, beginCarry, carrying } from './conversion-store';

export function conversionRoutes(
  db: Database,
  sessions: DeskConnections,
  live: LiveChannel,
  atWork: BackgroundTasks,
  log: Logger,
): Router {
  const onMade = (production: string) => {
    live.productionsChanged();
    void live.scenesChanged(production);
  };
  return Router()
    .post('/preview', async (req, res) => {
      res.json(await previewCarry(db, sessions, parseShape(conversionShape, req.body)));
    })
    .post('/', async (req, res) => {
      const tools = { db, sessions, atWork, log, onMade };
      res.status(202).json(await beginCarry(tools, parseShape(startConversionShape, req.body)));
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
