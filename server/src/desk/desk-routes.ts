import { Router } from 'express';

import { atHandShape, deskEditShape, settingsShape } from '@old-echo/core/contracts/desk';
import { validateSettings } from '@old-echo/core/desk/state';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import { baselineOf } from './baseline';
import { deskRow, deskRows, deskView, editDesk, setScenesAtHand } from './desk-store';
import { moveSettings } from './move-settings';
import type { ServerContext } from './server-context';

export function deskRoutes({ db, desks, live }: ServerContext): Router {
  const view = async (id: string) => deskView(db, await deskRow(db, id), desks.of(id).linkStatus);
  return Router()
    .get('/', async (_, res) => {
      const rows = await deskRows(db);
      res.json(await Promise.all(rows.map((row) => deskView(db, row, desks.of(row.id).linkStatus))));
    })
    .get('/:id', async (req, res) => {
      res.json(await view(req.params.id));
    })
    .patch('/:id', async (req, res) => {
      await editDesk(db, (await deskRow(db, req.params.id)).id, parseShape(deskEditShape, req.body));
      await live.deskChanged(req.params.id);
      res.json(await view(req.params.id));
    })
    .put('/:id/at-hand', async (req, res) => {
      await setScenesAtHand(db, req.params.id, parseShape(atHandShape, req.body).ids);
      await live.deskChanged(req.params.id);
      res.json(await view(req.params.id));
    })
    .get('/:id/state', (req, res) => {
      const session = desks.of(req.params.id);
      session.assertLinked();
      res.json(session.state);
    })
    .get('/:id/baseline', async (req, res) => {
      const { id } = await deskRow(db, req.params.id);
      res.json((await baselineOf(db, id))?.state ?? {});
    })
    .post('/:id/settings', async (req, res) => {
      const session = desks.of(req.params.id);
      session.assertLinked();
      const settings = validateSettings(session.profile, parseShape(settingsShape, req.body).settings);
      res.json({ unconfirmed: await moveSettings(session, settings) });
    });
}
