import { Router } from 'express';

import type { Database } from '../database/connect';
import type { ServerContext } from '../desk/server-context';
import { requestCancel } from '../jobs/job-store';
import type { LiveChannel } from '../live/live-channel';
import { productionsOf, rippleView, undoRipple } from './ripple-store';

/** Tells every page that scenes were replaced by a ripple, or put back. */
export async function announceRipple(db: Database, live: LiveChannel, id: string): Promise<void> {
  for (const production of await productionsOf(db, id)) await live.scenesChanged(production);
  await live.desksChanged();
}

export const rippleRoutes = ({ db, live }: ServerContext): Router =>
  Router()
    .get('/:id', async (req, res) => {
      res.json(await rippleView(db, req.params.id));
    })
    .post('/:id/cancel', async (req, res) => {
      await requestCancel(db, req.params.id);
      res.json(await rippleView(db, req.params.id));
    })
    .post('/:id/undo', async (req, res) => {
      const view = await undoRipple(db, req.params.id);
      await announceRipple(db, live, view.id);
      res.json(view);
    });
