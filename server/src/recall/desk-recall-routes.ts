import { Router } from 'express';
import { object } from 'yup';

import { recallShape, restoreRequestShape, swapShape } from '@old-echo/core/contracts/restore';
import { rippleShape } from '@old-echo/core/contracts/ripple';
import { timestampShape } from '@old-echo/core/contracts/scene';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { idShape } from '@old-echo/core/fault/text-shapes';

import { deskRow } from '../desk/desk-store';
import type { ServerContext } from '../desk/server-context';
import { assertNotShowLocked } from '../desk/show-lock';
import { acceptedIn, forgetAccepted } from './accepted-cautions';
import type { CancelRequests } from './cancel-requests';
import { planRecall } from './plan-recall';
import { startRestore } from './restore-runner';
import { restoreLog } from './restore-store';
import type { RunnerTools } from './restore-tools';
import { announceRipple } from './ripple-routes';
import { previewRipple, startRipple } from './ripple-store';
import { swap } from './swap';

const restoreLogQueryShape = object({ before: timestampShape.optional() }).noUnknown().required();

const acceptedShape = object({ from: idShape.required(), to: idShape.required() }).noUnknown().required();

/** Below a desk: previews, restores and their log, swaps, ripples, and what was accepted. */
export function deskRecallRoutes(context: ServerContext, controls: CancelRequests): Router {
  const { db, live, desks } = context;
  const runner = (desk: string): RunnerTools => ({ ...context, controls, session: desks.of(desk) });
  return Router()
    .post('/:id/previews', async (req, res) => {
      const recall = parseShape(recallShape, req.body);
      res.json((await planRecall(db, desks.of(req.params.id), recall)).preview);
    })
    .post('/:id/ripple-previews', async (req, res) => {
      res.json(await previewRipple(db, req.params.id, parseShape(rippleShape, req.body)));
    })
    .post('/:id/ripples', async (req, res) => {
      const request = parseShape(rippleShape, req.body);
      res.status(202).json(await startRipple(context, req.params.id, request, (id) => announceRipple(db, live, id)));
    })
    .get('/:id/accepted', async (req, res) => {
      res.json(await acceptedIn(db, { deskId: req.params.id, ...parseShape(acceptedShape, req.query) }));
    })
    .delete('/:id/accepted', async (req, res) => {
      assertNotShowLocked(await deskRow(db, req.params.id));
      await forgetAccepted(db, { deskId: req.params.id, ...parseShape(acceptedShape, req.query) });
      res.json({});
    })
    .get('/:id/restores', async (req, res) => {
      const { before } = parseShape(restoreLogQueryShape, req.query);
      res.json(await restoreLog(db, req.params.id, before ? new Date(before) : undefined));
    })
    .post('/:id/swaps', async (req, res) => {
      const { by } = parseShape(swapShape, req.body);
      res.status(202).json(await swap(runner(req.params.id), by));
    })
    .post('/:id/restores', async (req, res) => {
      const request = parseShape(restoreRequestShape, req.body);
      res.status(202).json(await startRestore(runner(req.params.id), request));
    });
}
