import { Router } from 'express';

import { namedScopeShape } from '@old-echo/core/contracts/scope';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { removeRow } from '../removed/removed-store';
import { savedScopes, saveScope } from './saved-scope-store';

export const scopeRoutes = ({ db }: ServerContext): Router =>
  Router()
    .get('/:profile', async (req, res) => {
      res.json(await savedScopes(db, req.params.profile));
    })
    .post('/', async (req, res) => {
      res.json(await saveScope(db, parseShape(namedScopeShape, req.body)));
    })
    .delete('/:id', async (req, res) => {
      res.json(await removeRow(db, 'saved_scopes', { id: req.params.id }));
    });
