import type { Router } from 'express';

import { LISTENING_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';

import { DONE, serveRoutes } from '../http/serve-routes';
import type { Listenings } from './listenings';
import { wireMessages } from './wire-messages';

export const listeningRoutes = (listenings: Listenings): Router =>
  serveRoutes(LISTENING_ROUTES, {
    startListening: ({ body }) => ({ id: listenings.open(body) }),
    listening: ({ params, query }) => wireMessages({ wireLog: listenings.of(params.id).log }, query.after),
    askDesk: async ({ params, body }) => ({ answeredIn: await listenings.of(params.id).answerTime(body) }),
    endListening: async ({ params }) => {
      await listenings.close(params.id);
      return DONE;
    },
  });
