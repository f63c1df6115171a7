import type { Router } from 'express';

import { PEOPLE_ROUTES } from '@old-echo/core/contracts/routes/people-routes';
import { Fault } from '@old-echo/core/fault/fault';

import type { ServerContext } from '../desk/server-context';
import { DONE, serveRoutes } from '../http/serve-routes';
import type { ChangeLog } from './change-log';
import { makeEntryCode, shutOut } from './device-store';
import { addressesOf } from './own-addresses';
import { editPerson, people, personFor, removePerson, setPasswordHash } from './person-store';
import type { Network } from './who-asks';

/** Who is let in, what they may do, and what they did. */
export function peopleRoutes({ db, live }: ServerContext, changes: ChangeLog, network: Network): Router {
  return serveRoutes(PEOPLE_ROUTES, {
    people: () => people(db),
    makeEntryCode: async ({ body }) => {
      const addresses = addressesOf(network);
      if (addresses.length === 0)
        throw new Fault('conflict', 'Nobody on the network can get in.', 'Start Old Echo with npm start -- --network.');
      const { code, endsAt } = await makeEntryCode(db, await personFor(db, body, new Date()), new Date());
      return { code, endsAt: endsAt.toISOString(), addresses };
    },
    editPerson: ({ params, body }) => editPerson(db, params.id, body),
    forgetPassword: ({ params }) => setPasswordHash(db, params.id, null),
    removePerson: async ({ params }) => {
      live.closeDevices(await removePerson(db, params.id));
      return DONE;
    },
    shutOut: async ({ params }) => {
      const device = await shutOut(db, params.id, new Date());
      live.closeDevices([device.id]);
      return device;
    },
    changes: ({ query }) => changes.page(query.before),
  });
}
