import { Router } from 'express';

import { deskEditShape, settingsShape } from '@old-echo/core/contracts/desk';
import { readShape } from '@old-echo/core/contracts/read';
import { previewRequestShape, restoreRequestShape } from '@old-echo/core/contracts/restore';
import { captureShape } from '@old-echo/core/contracts/scene';
import { acceptSettings } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';
import type { Live } from '../live/live';
import { captureScene } from '../runner/capture';
import { moveSettings } from '../runner/move';
import { previewRestore } from '../runner/plan';
import { startRestore } from '../runner/runner';
import type { Sessions } from '../sessions/sessions';
import { deskRow, deskRows, deskView, editDesk } from './store';

export function deskRoutes(db: Database, sessions: Sessions, live: Live): Router {
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
    .get('/:id/state', (req, res) => {
      const session = sessions.of(req.params.id);
      session.mustBeLinked();
      res.json(session.state);
    })
    .post('/:id/settings', async (req, res) => {
      const session = sessions.of(req.params.id);
      session.mustBeLinked();
      const settings = acceptSettings(session.profile, readShape(settingsShape, req.body).settings);
      res.json({ unconfirmed: await moveSettings(session, settings) });
    })
    .post('/:id/captures', async (req, res) => {
      const request = readShape(captureShape, req.body);
      const scene = await captureScene(db, sessions.of(req.params.id), request);
      await Promise.all([live.deskChanged(req.params.id), live.scenesChanged(scene.productionId)]);
      res.status(201).json(scene);
    })
    .post('/:id/previews', async (req, res) => {
      const { sceneId, scope } = readShape(previewRequestShape, req.body);
      res.json(await previewRestore(db, sessions.of(req.params.id), sceneId, scope));
    })
    .post('/:id/restores', async (req, res) => {
      const request = readShape(restoreRequestShape, req.body);
      res.status(202).json(await startRestore({ db, live, session: sessions.of(req.params.id) }, request));
    });
}
