import { Router } from 'express';

import { deskEditShape, pinsShape, settingsShape } from '@old-echo/core/contracts/desk';
import { readShape } from '@old-echo/core/fault/parse-shape';
import { acceptSettings } from '@old-echo/core/desk/state';

import { moveSettings } from './move-settings';
import type { Database } from '../database/connect';
import type { Live } from '../live/live-channel';
import type { Sessions } from './desk-connections';
import { baselineOf } from './baseline';
import { deskRow, deskRows, deskView, editDesk, pinScenes } from './desk-store';

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
    });
}
