import { Router } from 'express';
import { object } from 'yup';

import { deskEditShape, pinsShape, settingsShape } from '@old-echo/core/contracts/desk';
import { readShape } from '@old-echo/core/contracts/read';
import { rippleShape } from '@old-echo/core/contracts/ripple';
import { flipShape, recallShape, restoreRequestShape } from '@old-echo/core/contracts/restore';
import { captureShape, momentShape, replaceShape } from '@old-echo/core/contracts/scene';
import { idShape } from '@old-echo/core/contracts/words';
import { acceptSettings } from '@old-echo/core/desk/state';

import { previewRipple, productionsOf, ripple } from '../ripples/store';
import { captureScene, replaceScene } from '../runner/capture';
import { moveSettings } from '../runner/move';
import { planRecall } from '../runner/plan';
import { acceptedIn, forgetAccepted } from '../restores/accepted';
import { restoreLog } from '../restores/store';
import { flip } from '../runner/flip';
import { startRestore } from '../runner/runner';
import type { RunnerTools } from '../runner/tools';
import type { Sessions } from '../sessions/sessions';
import { baselineOf } from './baseline';
import { mustBeUnlocked } from './lock';
import { deskRow, deskRows, deskView, editDesk, pinScenes } from './store';

const logShape = object({ before: momentShape.optional() }).noUnknown().required();

const acceptedShape = object({ from: idShape.required(), to: idShape.required() }).noUnknown().required();

type Tools = Omit<RunnerTools, 'session'> & { readonly sessions: Sessions };

export function deskRoutes({ sessions, ...tools }: Tools): Router {
  const { db, live, lease } = tools;
  const view = async (id: string) => deskView(db, await deskRow(db, id), sessions.of(id).link);
  return Router()
    .get('/', async (_, res) => {
      const rows = await deskRows(db);
      res.json(await Promise.all(rows.map((row) => deskView(db, row, sessions.of(row.id).link))));
    })
    .get('/:id', async (req, res) => {
      res.json(await view(req.params.id));
    })
    .patch('/:id', async (req, res) => {
      await editDesk(db, (await deskRow(db, req.params.id)).id, readShape(deskEditShape, req.body));
      await live.deskChanged(req.params.id);
      res.json(await view(req.params.id));
    })
    .put('/:id/pins', async (req, res) => {
      await pinScenes(db, req.params.id, readShape(pinsShape, req.body).ids);
      await live.deskChanged(req.params.id);
      res.json(await view(req.params.id));
    })
    .get('/:id/state', (req, res) => {
      const session = sessions.of(req.params.id);
      session.mustBeLinked();
      res.json(session.state);
    })
    .get('/:id/baseline', async (req, res) => {
      const { id } = await deskRow(db, req.params.id);
      res.json((await baselineOf(db, id))?.state ?? {});
    })
    .post('/:id/settings', async (req, res) => {
      const session = sessions.of(req.params.id);
      session.mustBeLinked();
      const settings = acceptSettings(session.profile, readShape(settingsShape, req.body).settings);
      res.json({ unconfirmed: await moveSettings(session, settings) });
    })
    .post('/:id/captures', async (req, res) => {
      const request = readShape(captureShape, req.body);
      const scene = await captureScene(db, sessions.of(req.params.id), request, lease);
      await Promise.all([live.deskChanged(req.params.id), live.scenesChanged(scene.productionId)]);
      res.status(201).json(scene);
    })
    .post('/:id/replacements', async (req, res) => {
      const request = readShape(replaceShape, req.body);
      const scene = await replaceScene(db, sessions.of(req.params.id), request, lease);
      await Promise.all([live.deskChanged(req.params.id), live.scenesChanged(scene.productionId)]);
      res.status(201).json(scene);
    })
    .post('/:id/previews', async (req, res) => {
      const recall = readShape(recallShape, req.body);
      res.json((await planRecall(db, sessions.of(req.params.id), recall)).preview);
    })
    .post('/:id/ripple-previews', async (req, res) => {
      res.json(await previewRipple(db, req.params.id, readShape(rippleShape, req.body)));
    })
    .post('/:id/ripples', async (req, res) => {
      const view = await ripple(db, req.params.id, readShape(rippleShape, req.body));
      for (const production of await productionsOf(db, view.id)) await live.scenesChanged(production);
      await live.desksChanged();
      res.status(201).json(view);
    })
    .get('/:id/accepted', async (req, res) => {
      res.json(await acceptedIn(db, { deskId: req.params.id, ...readShape(acceptedShape, req.query) }));
    })
    .delete('/:id/accepted', async (req, res) => {
      mustBeUnlocked(await deskRow(db, req.params.id));
      await forgetAccepted(db, { deskId: req.params.id, ...readShape(acceptedShape, req.query) });
      res.json({});
    })
    .get('/:id/restores', async (req, res) => {
      const { before } = readShape(logShape, req.query);
      res.json(await restoreLog(db, req.params.id, before ? new Date(before) : undefined));
    })
    .post('/:id/flips', async (req, res) => {
      const { by } = readShape(flipShape, req.body);
      res.status(202).json(await flip({ ...tools, session: sessions.of(req.params.id) }, by));
    })
    .post('/:id/restores', async (req, res) => {
      const request = readShape(restoreRequestShape, req.body);
      res.status(202).json(await startRestore({ ...tools, session: sessions.of(req.params.id) }, request));
    });
}
