import { Router } from 'express';

import { profileSource } from './profile-store';
import type { ServerContext } from './server-context';

export const profileRoutes = ({ db }: ServerContext): Router =>
  Router().get('/:id', async (req, res) => {
    res.type('json').send(await profileSource(db, req.params.id));
  });
