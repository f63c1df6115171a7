import { Router } from 'express';

import type { ServerContext } from '../desk/server-context';
import { originsOf } from './combination-store';

/** Below a scene: which scene each of its cells came from. */
export const originRoutes = ({ db }: ServerContext): Router =>
  Router().get('/:id/cell-origins', async (req, res) => {
    res.json(await originsOf(db, req.params.id));
  });
