import type { Router } from 'express';

import { CONVERSION_ROUTES } from '@old-echo/core/contracts/routes/library-routes';

import { assertRoom } from '../database/disk-room';
import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
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
  return serveRoutes(CONVERSION_ROUTES, {
    previewConversion: ({ body }) => previewConversion(db, desks, body),
    startConversion: async ({ body }) => {
      await assertRoom(context.files.arriving);
      return startConversion({ ...context, onMade }, body);
    },
    conversion: ({ params }) => conversion(db, params.id),
    conversionReport: async ({ params, res }) =>
      void res.type('html').send(conversionReportHtml(await conversion(db, params.id))),
    cancelConversion: async ({ params }) => {
      await requestCancel(db, params.id);
      return conversion(db, params.id);
    },
  });
}
