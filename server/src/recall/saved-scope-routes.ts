import type { Router } from 'express';

import { SCOPE_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';

import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { removeRow } from '../removed/removed-store';
import { savedScopes, saveScope } from './saved-scope-store';

export const scopeRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(SCOPE_ROUTES, {
    savedScopes: ({ params }) => savedScopes(db, params.profile),
    saveScope: ({ body }) => saveScope(db, body),
    removeScope: ({ params }) => removeRow(db, 'saved_scopes', { id: params.id }),
  });
