import type { Router } from 'express';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import type { FoundDesk } from '@old-echo/core/desk/link-trial';
import { wiredPart } from '@old-echo/core/desk/manual';
import { validateSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { findDesks } from '@old-echo/desk-link/find-desks';
import { tryLink } from '@old-echo/desk-link/try-link';
import { tryMappedLink } from '@old-echo/desk-link/try-mapped-link';

import { fileName } from '../http/safe-file-name';
import { serveRoutes } from '../http/serve-routes';
import { AttemptLimit } from '../secrets/attempt-limit';
import { baselineOf, baselineOrigins } from './baseline';
import { addDeskAt, bringBackDesk, placeDesk, removeDesk } from './desk-place';
import { deskRow, deskRows, deskView, editDesk, forgetPin, setScenesAtHand } from './desk-store';
import { gateRow } from './gate-row';
import { moveSettings } from './move-settings';
import { readStoredProfile } from './profile-store';
import type { ServerContext } from './server-context';
import { wireMessages, wireTable } from './wire-messages';

/** How often a PIN may be tried: of four digits half are through after a day then. */
const PIN_TRIES = { name: 'pin', points: 5, seconds: 60 };

export function deskRoutes({ db, database, aside, desks, live, lease }: ServerContext): Router {
  const pins = new AttemptLimit(db, database, PIN_TRIES);
  const view = async (id: string) => deskView(db, await deskRow(db, id), desks.of(id).linkStatus);
  const relinked = async (id: string, change: () => Promise<void>) => {
    await change();
    await desks.reconnect(db, id);
    await live.deskChanged(id);
    return view(id);
  };
  return serveRoutes(DESK_ROUTES, {
    desks: async () => {
      // One that was just added is told once it is being looked for.
      const rows = (await deskRows(db)).filter((row) => desks.has(row.id));
      return Promise.all(rows.map((row) => deskView(db, row, desks.of(row.id).linkStatus)));
    },
    desk: ({ params }) => view(params.id),
    addDesk: async ({ body }) => {
      const id = await addDeskAt(db, body);
      await desks.connectNewDesks(db);
      return view(id);
    },
    placeDesk: ({ params, body }) => relinked(params.id, () => placeDesk(db, params.id, body, lease)),
    removeDesk: ({ params }) => relinked(params.id, () => removeDesk(db, params.id, lease)),
    bringBackDesk: ({ params }) => relinked(params.id, () => bringBackDesk(db, params.id, lease)),
    nearbyDesks: async () => {
      const inUse = (await deskRows(db)).filter((row) => row.removed_at === null);
      const isInUse = ({ host, port }: FoundDesk) => inUse.some((row) => row.host === host && row.port === port);
      return (await findDesks()).filter((desk) => !isInUse(desk));
    },
    tryLink: async ({ body }) => {
      const profile = wiredPart(await readStoredProfile(db, body.profileId));
      if (profile.strips.length === 0)
        throw new Fault('refused-input', 'No wire leads to a manual desk.', 'Add it as it is.', 'profileId');
      const { link: map } = profile;
      return map ? tryMappedLink({ ...body, profile, map }) : tryLink({ ...body, profile });
    },
    wire: ({ params, query }) => wireMessages(desks.of(params.id).wire, query.after),
    exportWire: async ({ params, res }) => {
      const { name } = await deskRow(db, params.id);
      res
        .attachment(`${fileName(`Wire of ${name}`)}.csv`)
        .type('text/csv')
        .send(wireTable(desks.of(params.id).wire));
    },
    editDesk: async ({ params, body }) => {
      await editDesk(db, params.id, body, pins);
      await live.deskChanged(params.id);
      return view(params.id);
    },
    forgetPin: async ({ params }) => {
      await forgetPin(db, params.id);
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
