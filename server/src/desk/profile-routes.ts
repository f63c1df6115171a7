import { Router } from 'express';

import type { Database } from '../database/connect';
import { profileSource } from './profile-store';

export const profileRoutes = (db: Database): Router =>
  Router().get('/:id', async (req, res) => {
    res.type('json').send(await profileSource(db, req.params.id));
  });
