import type { Router } from 'express';

import { PROFILE_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';

import { serveRoutes } from '../http/serve-routes';
import { addProfile } from './add-profile';
import { changeProfile } from './change-profile';
import { previewProfileChange } from './preview-profile-change';
import { profileSource, profileSummaries } from './profile-store';
import type { ServerContext } from './server-context';

export const profileRoutes = (context: ServerContext): Router => {
  const { db } = context;
  return serveRoutes(PROFILE_ROUTES, {
    profiles: () => profileSummaries(db),
    addProfile: ({ body }) => addProfile(context, body.source),
    previewProfileChange: ({ params, body }) => previewProfileChange(context, params.id, body.source),
    changeProfile: ({ params, body }) => changeProfile(context, params.id, body),
    exportProfile: async ({ params, res }) => {
      const source = await profileSource(db, params.id);
      res.attachment(`${params.id}.json`).type('json').send(source);
    },
    // As it was stored, without being read.
    profile: async ({ params, res }) => void res.type('json').send(await profileSource(db, params.id)),
  });
};
