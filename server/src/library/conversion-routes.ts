import { Router } from 'express';

import { conversionShape, startConversionShape } from '@old-echo/core/contracts/conversion';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { requestCancel } from '../jobs/job-store';
import { conversionReportHtml } from './conversion-report-page';
import { conversion, startConversion } from './conversion-store';
import { previewConversion } from './plan-conversion';

export function conversionRoutes(context: ServerContext): Router {
  const { db, desks, live } = context;
  const onMade = (production: string) => {
    live.productionsChanged();
    void live.scenesChanged(production);
  };
  return Router()
    .post('/preview', async (req, res) => {
      res.json(await previewConversion(db, desks, parseShape(conversionShape, req.body)));
    })
    .post('/', async (req, res) => {
      res.status(202).json(await startConversion({ ...context, onMade }, parseShape(startConversionShape, req.body)));
    })
    .get('/:id', async (req, res) => {
      res.json(await conversion(db, req.params.id));
    })
    .get('/:id/report.html', async (req, res) => {
      res.type('html').send(conversionReportHtml(await conversion(db, req.params.id)));
    })
    .post('/:id/cancel', async (req, res) => {
      await requestCancel(db, req.params.id);
      res.json(await conversion(db, req.params.id));
    });
}
