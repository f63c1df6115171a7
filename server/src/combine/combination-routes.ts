import type { Router } from 'express';

import { COMBINATION_ROUTES, ORIGIN_ROUTES } from '@old-echo/core/contracts/routes/combine-routes';

import type { ServerContext } from '../desk/server-context';
import { DONE, serveRoutes } from '../http/serve-routes';
import {
  combination,
  combinations,
  discardCombination,
  editCombination,
  originsOf,
  saveCombination,
  startCombination,
} from './combination-store';

export const combinationRoutes = ({ db, live }: ServerContext): Router =>
  serveRoutes(COMBINATION_ROUTES, {
    combinations: ({ query }) => combinations(db, query.production),
    startCombination: async ({ body }) => {
      const view = await startCombination(db, body);
      await live.scenesChanged(view.productionId);
      return view;
    },
    combination: ({ params }) => combination(db, params.id),
    editCombination: ({ params, body }) => editCombination(db, params.id, body),
    discardCombination: async ({ params }) => {
      const { productionId } = await combination(db, params.id);
      await discardCombination(db, params.id);
      await live.scenesChanged(productionId);
      return DONE;
    },
    saveCombination: async ({ params, body }) => {
      const scene = await saveCombination(db, params.id, body);
      await live.scenesChanged(scene.productionId);
      return scene;
    },
  });

export const originRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(ORIGIN_ROUTES, { cellOrigins: ({ params }) => originsOf(db, params.id) });
