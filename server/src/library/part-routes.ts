import type { Router } from 'express';

import { PART_ROUTES } from '@old-echo/core/contracts/routes/library-routes';

import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { loadParts, setParts } from './part-store';

/** What the strips of a production carry. */
export const partRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(PART_ROUTES, {
    parts: ({ params }) => loadParts(db, params.production),
    setParts: ({ params, body }) => setParts(db, params.production, body),
  });
