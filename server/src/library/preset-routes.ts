import type { Router } from 'express';

import { PRESET_ROUTES } from '@old-echo/core/contracts/routes/library-routes';

import type { ServerContext } from '../desk/server-context';
import { DONE, serveRoutes } from '../http/serve-routes';
import { binPreset, editPreset, insertPreset, newEdition, presetDetail, presets, removePreset } from './preset-store';

export const presetRoutes = ({ db, desks }: ServerContext): Router =>
  serveRoutes(PRESET_ROUTES, {
    presets: () => presets(db),
    savePreset: ({ body }) => insertPreset(db, body),
    preset: ({ params }) => presetDetail(db, params.id),
    editPreset: ({ params, body }) => editPreset(db, params.id, body),
    updatePreset: ({ params, body }) => newEdition(db, desks, params.id, body),
    binPreset: ({ params }) => binPreset(db, params.id, true),
    unbinPreset: ({ params }) => binPreset(db, params.id, false),
    deletePreset: async ({ params }) => {
      await removePreset(db, params.id);
      return DONE;
    },
  });
