import { Router } from 'express';
import { object } from 'yup';

import {
  combinationEditShape,
  keepCombinationShape,
  newCombinationShape,
  type NewCombination,
} from '@old-echo/core/contracts/combination';
import type { Picks } from '@old-echo/core/combine/recipe';
import { readShape } from '@old-echo/core/fault/parse-shape';
import { idShape } from '@old-echo/core/fault/text-shapes';

import type { Database } from '../database/connect';
import type { Live } from '../live/live-channel';
import {
  beginCombination,
  combination,
  combinations,
  editCombination,
  giveUpCombination,
  keepCombination,
} from './combination-store';

const querySchema = object({ production: idShape.required() }).noUnknown();

export const combinationRoutes = (db: Database, live: Live): Router =>
  Router()
    .get('/', async (req, res) => {
      res.json(await combinations(db, readShape(querySchema, req.query).production));
    })
    .post('/', async (req, res) => {
      const view = await beginCombination(db, readShape(newCombinationShape, req.body) as NewCombination);
      await live.scenesChanged(view.productionId);
      res.status(201).json(view);
    })
    .get('/:id', async (req, res) => {
      res.json(await combination(db, req.params.id));
    })
    .patch('/:id', async (req, res) => {
      const { picks, revision } = readShape(combinationEditShape, req.body);
      res.json(await editCombination(db, req.params.id, { picks: picks as Picks, revision }));
    })
    .delete('/:id', async (req, res) => {
      const { productionId } = await combination(db, req.params.id);
      await giveUpCombination(db, req.params.id);
      await live.scenesChanged(productionId);
      res.json({});
    })
    .post('/:id/keep', async (req, res) => {
      const scene = await keepCombination(db, req.params.id, readShape(keepCombinationShape, req.body));
      await live.scenesChanged(scene.productionId);
      res.status(201).json(scene);
    });
