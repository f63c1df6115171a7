import { Router } from 'express';
import { object } from 'yup';

import { combinationEditShape, newCombinationShape, saveCombinationShape } from '@old-echo/core/contracts/combination';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { idShape } from '@old-echo/core/fault/text-shapes';

import type { ServerContext } from '../desk/server-context';
import {
  combination,
  combinations,
  discardCombination,
  editCombination,
  saveCombination,
  startCombination,
} from './combination-store';

const querySchema = object({ production: idShape.required() }).noUnknown();

export const combinationRoutes = ({ db, live }: ServerContext): Router =>
  Router()
    .get('/', async (req, res) => {
      res.json(await combinations(db, parseShape(querySchema, req.query).production));
    })
    .post('/', async (req, res) => {
      const view = await startCombination(db, parseShape(newCombinationShape, req.body));
      await live.scenesChanged(view.productionId);
      res.status(201).json(view);
    })
    .get('/:id', async (req, res) => {
      res.json(await combination(db, req.params.id));
    })
    .patch('/:id', async (req, res) => {
      const { picks, revision } = parseShape(combinationEditShape, req.body);
      res.json(await editCombination(db, req.params.id, { picks: picks, revision }));
    })
    .delete('/:id', async (req, res) => {
      const { productionId } = await combination(db, req.params.id);
      await discardCombination(db, req.params.id);
      await live.scenesChanged(productionId);
      res.json({});
    })
    .post('/:id/save', async (req, res) => {
      const scene = await saveCombination(db, req.params.id, parseShape(saveCombinationShape, req.body));
      await live.scenesChanged(scene.productionId);
      res.status(201).json(scene);
    });
