import type { Router } from 'express';

import { PRESET_ORIGIN_ROUTES, STAGED_SETTINGS_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';

import type { ServerContext } from '../desk/server-context';
import { DONE, serveRoutes } from '../http/serve-routes';
import { presetOrigins, removePresetOrigin, stagedSettings, stageSettings } from './staged-settings-store';

export const stagedSettingsRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(STAGED_SETTINGS_ROUTES, {
    stageSettings: ({ body }) => stageSettings(db, body),
    stagedSettings: ({ params }) => stagedSettings(db, params.id),
  });

/** Which strips of a desk came from which presets. */
export const presetOriginRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(PRESET_ORIGIN_ROUTES, {
    presetOrigins: ({ params }) => presetOrigins(db, params.id),
    removePresetOrigin: async ({ params: { id, strip, preset } }) => {
      await removePresetOrigin(db, id, strip, preset);
      return DONE;
    },
  });
