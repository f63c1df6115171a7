import type { Router } from 'express';

import { BLIND_TEST_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';

import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { blindTests, saveBlindTest } from './blind-test-store';

export const blindTestRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(BLIND_TEST_ROUTES, {
    blindTests: ({ params }) => blindTests(db, params.a, params.b),
    saveBlindTest: async ({ body }) => {
      await saveBlindTest(db, body);
      return blindTests(db, body.a, body.b);
    },
  });
