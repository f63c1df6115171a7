import type { Router } from 'express';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { validateSettings } from '@old-echo/core/desk/state';

import { serveRoutes } from '../http/serve-routes';
import { baselineOf, baselineOrigins } from './baseline';
import { deskRow, deskRows, deskView, editDesk, setScenesAtHand } from './desk-store';
import { gateRow } from './gate-row';
import { moveSettings } from './move-settings';
import type { ServerContext } from './server-context';

export function deskRoutes({ db, aside, desks, live }: ServerContext): Router {
  const view = async (id: string) => deskView(db, await deskRow(db, id), desks.of(id).linkStatus);
  return serveRoutes(DESK_ROUTES, {
    desks: async () => {
      const rows = await deskRows(db);
      return Promise.all(rows.map((row) => deskView(db, row, desks.of(row.id).linkStatus)));
    },
    desk: ({ params }) => view(params.id),
    editDesk: async ({ params, body }) => {
      await editDesk(db, (await deskRow(db, params.id)).id, body);
      await live.deskChanged(params.id);
      return view(params.id);
    },
    setScenesAtHand: async ({ params, body }) => {
      await setScenesAtHand(db, params.id, body.ids);
      await live.deskChanged(params.id);
      return view(params.id);
    },
    deskState: ({ params }) => {
      const session = desks.of(params.id);
      session.assertLinked();
      return session.state;
    },
    baselineOrigins: async ({ params }) => baselineOrigins(db, (await deskRow(db, params.id)).id),
    baseline: async ({ params }) => (await baselineOf(db, (await deskRow(db, params.id)).id))?.state ?? {},
    moveSettings: async ({ params, body }) => {
      const session = desks.of(params.id);
      session.assertLinked();
      const settings = validateSettings(session.profile, body.settings);
      const gate = await gateRow(session, () => deskRow(aside, params.id));
      return { unconfirmed: await moveSettings(session, gate, settings, body) };
    },
  });
}
