import { Router } from 'express';
import { object } from 'yup';

import { flipShape, recallShape, restoreRequestShape } from '@old-echo/core/contracts/restore';
import { rippleShape } from '@old-echo/core/contracts/ripple';
import { timestampShape } from '@old-echo/core/contracts/scene';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { idShape } from '@old-echo/core/fault/text-shapes';

import type { DeskConnections } from '../desk/desk-connections';
import { deskRow } from '../desk/desk-store';
import { assertNotShowLocked } from '../desk/show-lock';
import { acceptedIn, forgetAccepted } from './accepted-cautions';
import { flip } from './flip';
import { planRecall } from './plan-recall';
import { startRestore } from './restore-runner';
import { restoreLog } from './restore-store';
import type { RunnerTools } from './restore-tools';
import { previewRipple, productionsOf, applyRipple } from './ripple-store';

const restoreLogQueryShape = object({ before: timestampShape.optional() }).noUnknown().required();

const acceptedShape = object({ from: idShape.required(), to: idShape.required() }).noUnknown().required();

type Tools = Omit<RunnerTools, 'session'> & { readonly sessions: DeskConnections };

/** Below a desk: previews, restores and their log, flips, ripples, and what was accepted. */
export function deskRecallRoutes({ sessions, ...tools }: Tools): Router {
  const { db, live } = tools;
  return Router()
    .post('/:id/previews', async (req, res) => {
      const recall = parseShape(recallShape, req.body);
      res.json((await planRecall(db, sessions.of(req.params.id), recall)).preview);
    })
    .post('/:id/ripple-previews', async (req, res) => {
      res.json(await previewRipple(db, req.params.id, parseShape(rippleShape, req.body)));
    })
    .post('/:id/ripples', async (req, res) => {
      const view = await applyRipple(db, req.params.id, parseShape(rippleShape, req.body));
      for (const production of await productionsOf(db, view.id)) await live.scenesChanged(production);
      await live.desksChanged();
      res.status(201).json(view);
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
    .post('/:id/flips', async (req, res) => {
      const { by } = parseShape(flipShape, req.body);
      res.status(202).json(await flip({ ...tools, session: sessions.of(req.params.id) }, by));
    })
    .post('/:id/restores', async (req, res) => {
      const request = parseShape(restoreRequestShape, req.body);
      res.status(202).json(await startRestore({ ...tools, session: sessions.of(req.params.id) }, request));
    });
}
