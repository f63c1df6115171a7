import { Router } from 'express';

import { readShape } from '@old-echo/core/fault/parse-shape';
import { namedScopeShape } from '@old-echo/core/contracts/scope';

import type { Database } from '../database/connect';
import { takeOff } from '../removed/removed-store';
import { namedScopes, saveScope } from './saved-scope-store';

export const scopeRoutes = (db: Database): Router =>
  Router()
    .get('/:profile', async (req, res) => {
      res.json(await namedScopes(db, req.params.profile));
    })
    .post('/', async (req, res) => {
      res.json(await saveScope(db, readShape(namedScopeShape, req.body)));
    })
    .delete('/:id', async (req, res) => {
      res.json(await takeOff(db, 'scopes', { id: req.params.id }));
    });
