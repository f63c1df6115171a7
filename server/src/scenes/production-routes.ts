import { Router } from 'express';

import {
  newProductionShape,
  newVersionShape,
  orderShape,
  productionEditShape,
} from '@old-echo/core/contracts/production';
import { scenePageShape } from '@old-echo/core/contracts/scene';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import { reorderRows } from '../database/reorder-rows';
import type { ServerContext } from '../desk/server-context';
import { productionMustBeUnlocked } from '../desk/show-lock';
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
  const told = (answer: object = {}) => {
    live.productionsChanged();
    return answer;
  };
  return Router()
    .get('/', async (_, res) => {
      res.json(await productionViews(db));
    })
    .post('/', async (req, res) => {
      res.status(201).json(told({ id: await insertProduction(db, parseShape(newProductionShape, req.body)) }));
    })
    .post('/order', async (req, res) => {
      await reorderRows(db, 'productions', {}, parseShape(orderShape, req.body).ids);
      res.json(told());
    })
    .patch('/:id', async (req, res) => {
      await editProduction(db, req.params.id, parseShape(productionEditShape, req.body));
      res.json(told());
    })
    .post('/:id/bin', async (req, res) => {
      await productionMustBeUnlocked(db, req.params.id);
      await binProduction(db, req.params.id, true);
      res.json(told());
    })
    .post('/:id/unbin', async (req, res) => {
      await binProduction(db, req.params.id, false);
      res.json(told());
    })
    .delete('/:id', async (req, res) => {
      await productionMustBeUnlocked(db, req.params.id);
      await removeProduction(db, req.params.id);
      res.json(told());
    })
    .get('/:id/scenes', async (req, res) => {
      res.json(await scenePage(db, req.params.id, parseShape(scenePageShape, req.query)));
    })
    .delete('/:id/bin', async (req, res) => {
      await productionMustBeUnlocked(db, req.params.id);
      const removed = await emptyBin(db, await profileOfProduction(db, req.params.id), req.params.id);
      await live.scenesChanged(req.params.id);
      res.json(told({ removed }));
    })
    .post('/:id/versions', async (req, res) => {
      const id = await insertVersion(db, req.params.id, parseShape(newVersionShape, req.body));
      await live.scenesChanged(req.params.id);
      res.status(201).json(told({ id }));
    })
    .post('/:id/versions/order', async (req, res) => {
      await reorderRows(db, 'versions', { production_id: req.params.id }, parseShape(orderShape, req.body).ids);
      res.json(told());
    });
}
