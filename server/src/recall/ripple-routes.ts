import { Router } from 'express';

import type { Database } from '../database/connect';
import type { LiveChannel } from '../live/live-channel';
import { productionsOf, undoRipple } from './ripple-store';

export const rippleRoutes = (db: Database, live: LiveChannel): Router =>
  Router().post('/:id/undo', async (req, res) => {
    const view = await undoRipple(db, req.params.id);
    for (const production of await productionsOf(db, view.id)) await live.scenesChanged(production);
    await live.desksChanged();
    res.json(view);
  });
