import { Router } from 'express';

import { stagedSettingsShape } from '@old-echo/core/contracts/preset';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { presetOrigins, removePresetOrigin, stagedSettings, stageSettings } from './staged-settings-store';

export const stagedSettingsRoutes = ({ db }: ServerContext): Router =>
  Router()
    .post('/', async (req, res) => {
      res.status(201).json(await stageSettings(db, parseShape(stagedSettingsShape, req.body)));
    })
    .get('/:id', async (req, res) => {
      res.json(await stagedSettings(db, req.params.id));
    });

/** Which strips of a desk came from which presets, mounted below desks. */
export const presetOriginRoutes = ({ db }: ServerContext): Router =>
  Router()
    .get('/:id/preset-origins', async (req, res) => {
      res.json(await presetOrigins(db, req.params.id));
    })
    .delete('/:id/preset-origins/:strip/:preset', async (req, res) => {
      const { id, strip, preset } = req.params;
      await removePresetOrigin(db, id, strip, preset);
      res.json({});
    });
