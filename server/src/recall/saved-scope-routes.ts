import { Router } from 'express';

import { parseShape } from '@old-echo/core/fault/parse-shape';
import { namedScopeShape } from '@old-echo/core/contracts/scope';

import type { Database } from '../database/connect';
import { takeOff } from '../removed/removed-store';
import { savedScopes, saveScope } from './saved-scope-store';

export const scopeRoutes = (db: Database): Router =>
  Router()
    .get('/:profile', async (req, res) => {
      res.json(await savedScopes(db, req.params.profile));
    })
    .post('/', async (req, res) => {
      res.json(await saveScope(db, parseShape(namedScopeShape, req.body)));
    })
    .delete('/:id', async (req, res) => {
      res.json(await takeOff(db, 'scopes', { id: req.params.id }));
    });
