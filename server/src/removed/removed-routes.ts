import { Router } from 'express';

import type { ServerContext } from '../desk/server-context';
import { undoRemoval } from './removed-store';

export const removalRoutes = ({ db }: ServerContext): Router =>
  Router().post('/:id/back', async (req, res) => {
    await undoRemoval(db, req.params.id);
    res.json({});
  });
