import type { Router } from 'express';

import { RIPPLE_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';

import type { Database } from '../database/connect';
import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { requestCancel } from '../jobs/job-store';
import type { LiveChannel } from '../live/live-channel';
import { productionsOf, rippleView, undoRipple } from './ripple-store';

/** Tells every page that scenes were replaced by a ripple, or put back. */
export async function announceRipple(db: Database, live: LiveChannel, id: string): Promise<void> {
  for (const production of await productionsOf(db, id)) await live.scenesChanged(production);
  await live.desksChanged();
}

export const rippleRoutes = ({ db, live }: ServerContext): Router =>
  serveRoutes(RIPPLE_ROUTES, {
    ripple: ({ params }) => rippleView(db, params.id),
    cancelRipple: async ({ params }) => {
      await requestCancel(db, params.id);
      return rippleView(db, params.id);
    },
    undoRipple: async ({ params }) => {
      const view = await undoRipple(db, params.id);
      await announceRipple(db, live, view.id);
      return view;
    },
  });
