import type { IncomingMessage } from 'node:http';

import { type RequestHandler, Router } from 'express';

import type { Route } from '@old-echo/core/contracts/route';

import { deskRow } from '../desk/desk-store';
import type { ServerContext } from '../desk/server-context';
import { restoreRow } from '../recall/restore-store';
import { productionsOf } from '../scenes/productions-of';
import type { WorkerPool } from '../sound/worker-pool';
import { ChangeLog } from './change-log';
import { clientRoutes } from './client-routes';
import { deviceRoutes } from './device-routes';
import { shutOutOf } from './device-store';
import { peopleGate } from './people-gate';
import { peopleRoutes } from './people-routes';
import { letIn, type Network, whoAsks } from './who-asks';

/** How often it is looked for devices that another server has shut out, in ms. */
const SHUT_OUT_MS = 500;
/** How often changes of long ago are forgotten, in ms. */
const FORGET_MS = 3_600_000;

/** Who gets in, what they may do and what they did: the gate before all routes, and the routes of its own. */
export function openPeople(context: ServerContext, pool: WorkerPool, network: Network) {
  const { db, log, live, tasks } = context;
  const changes = new ChangeLog(db, log);
  const deskOf = async ({ path }: Route, id: string) =>
    deskRow(db, path.startsWith('/restores/') ? (await restoreRow(db, id)).desk_id : id);
  const about = {
    productionsOf: (ids: readonly string[]) => productionsOf(db, ids),
    isStudio: async (route: Route, id: string) => (await deskOf(route, id)).mode === 'studio',
  };
  const closeShutOut = async () => live.closeDevices(await shutOutOf(db, live.openDevices()));
  const forgetting = setInterval(() => tasks.add(changes.forgetOld(new Date())), FORGET_MS);
  let looking: NodeJS.Timeout | undefined;
  const gate: RequestHandler = Router().use(letIn(db, network), peopleGate(context, changes, about));
  return {
    gate,
    routers: [
      deviceRoutes(context, network),
      peopleRoutes(context, changes, network),
      ...clientRoutes(context, pool, network),
    ],
    /** Who opens a live channel. */
    whoOpens: async (request: IncomingMessage) => {
      const asker = await whoAsks(db, request, network);
      if (typeof asker !== 'object') return asker;
      const { device, person } = asker;
      return { id: device.id, name: device.name, person: person.name };
    },
    lookForShutOut: () => {
      looking = setInterval(() => tasks.add(closeShutOut()), SHUT_OUT_MS);
    },
    close: () => {
      clearInterval(looking);
      clearInterval(forgetting);
    },
  };
}
