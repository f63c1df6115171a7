import type { ServerContext } from './server-context';
import { Router } from 'express';

import { profileSource } from './profile-store';

export const profileRoutes = ({ db }: ServerContext): Router =>
  Router().get('/:id', async (req, res) => {
    res.type('json').send(await profileSource(db, req.params.id));
  });
