import { Router } from 'express';

import { newEditionShape, newPresetShape, presetEditShape } from '@old-echo/core/contracts/preset';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { binPreset, editPreset, insertPreset, newEdition, presetDetail, presets, removePreset } from './preset-store';

export const presetRoutes = ({ db, desks }: ServerContext): Router =>
  Router()
    .get('/', async (_, res) => {
      res.json(await presets(db));
    })
    .post('/', async (req, res) => {
      res.status(201).json(await insertPreset(db, parseShape(newPresetShape, req.body)));
    })
    .get('/:id', async (req, res) => {
      res.json(await presetDetail(db, req.params.id));
    })
    .patch('/:id', async (req, res) => {
      res.json(await editPreset(db, req.params.id, parseShape(presetEditShape, req.body)));
    })
    .post('/:id/editions', async (req, res) => {
      res.status(201).json(await newEdition(db, desks, req.params.id, parseShape(newEditionShape, req.body)));
    })
    .post('/:id/bin', async (req, res) => {
      res.json(await binPreset(db, req.params.id, true));
    })
    .post('/:id/unbin', async (req, res) => {
      res.json(await binPreset(db, req.params.id, false));
    })
    .delete('/:id', async (req, res) => {
      await removePreset(db, req.params.id);
      res.json({});
    });
