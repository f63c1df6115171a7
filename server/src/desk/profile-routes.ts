import type { Router } from 'express';

import { PROFILE_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';

import { serveRoutes } from '../http/serve-routes';
import { profileSource } from './profile-store';
import type { ServerContext } from './server-context';

export const profileRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(PROFILE_ROUTES, {
    // As it was stored, without being read.
    profile: async ({ params, res }) => void res.type('json').send(await profileSource(db, params.id)),
  });
