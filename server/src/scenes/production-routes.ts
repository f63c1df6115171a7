import type { Router } from 'express';

import { PRODUCTION_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';

import { reorderRows } from '../database/reorder-rows';
import type { ServerContext } from '../desk/server-context';
import { productionMustBeUnlocked } from '../desk/show-lock';
import { DONE, serveRoutes } from '../http/serve-routes';
import { emptyBin } from './delete-scenes';
import { scenePage } from './list-scenes';
import {
  binProduction,
  editProduction,
  insertProduction,
  productionViews,
  profileOfProduction,
  removeProduction,
} from './production-store';
import { insertVersion } from './version-store';

export function productionRoutes({ db, live }: ServerContext): Router {
  const told = <Answer extends object>(answer: Answer) => {
    live.productionsChanged();
    return answer;
  };
  return serveRoutes(PRODUCTION_ROUTES, {
    productions: () => productionViews(db),
    createProduction: async ({ body }) => told({ id: await insertProduction(db, body) }),
    orderProductions: async ({ body }) => {
      await reorderRows(db, 'productions', {}, body.ids);
      return told(DONE);
    },
    editProduction: async ({ params, body }) => {
      await editProduction(db, params.id, body);
      return told(DONE);
    },
    binProduction: async ({ params }) => {
      await productionMustBeUnlocked(db, params.id);
      await binProduction(db, params.id, true);
      return told(DONE);
    },
    unbinProduction: async ({ params }) => {
      await binProduction(db, params.id, false);
      return told(DONE);
    },
    deleteProduction: async ({ params }) => {
      await productionMustBeUnlocked(db, params.id);
      await removeProduction(db, params.id);
      return told(DONE);
    },
    scenes: ({ params, query }) => scenePage(db, params.id, query),
    emptyBin: async ({ params }) => {
      await productionMustBeUnlocked(db, params.id);
      const removed = await emptyBin(db, await profileOfProduction(db, params.id), params.id);
      await live.scenesChanged(params.id);
      return told({ removed });
    },
    createVersion: async ({ params, body }) => {
      const id = await insertVersion(db, params.id, body);
      await live.scenesChanged(params.id);
      return told({ id });
    },
    orderVersions: async ({ params, body }) => {
      await reorderRows(db, 'versions', { production_id: params.id }, body.ids);
      return told(DONE);
    },
  });
}
