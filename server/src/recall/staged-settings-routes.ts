import { Router } from 'express';

import { stagedSettingsShape, type NewStagedSettings } from '@old-echo/core/contracts/preset';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import { removePresetOrigin, stageSettings, presetOrigins, stagedSettings } from './staged-settings-store';

export const placementRoutes = (db: Database): Router =>
  Router()
    .post('/', async (req, res) => {
      res.status(201).json(await stageSettings(db, parseShape(stagedSettingsShape, req.body) as NewStagedSettings));
    })
    .get('/on/:desk', async (req, res) => {
      res.json(await presetOrigins(db, req.params.desk));
    })
    .delete('/on/:desk/:strip/:preset', async (req, res) => {
      const { desk, strip, preset } = req.params;
      await removePresetOrigin(db, desk, strip, preset);
      res.json({});
    })
    .get('/:id', async (req, res) => {
      res.json(await stagedSettings(db, req.params.id));
    });
