import { networkInterfaces } from 'node:os';

import type { Response, Router } from 'express';
import { RateLimiterMySQL, RateLimiterRes } from 'rate-limiter-flexible';

import { DEVICE_ROUTES } from '@old-echo/core/contracts/routes/people-routes';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { devices, deviceView, enter, makeEntryCode, shutOut } from './device-store';
import { askerOf, COOKIE, isByTls } from './who-asks';

/** Codes that may be tried from one address, and from all, in a time in s. A restart does not forget them. */
const TRIES = { each: 10, all: 50, seconds: 120 };
/** How long a device stays in that is not shut out, in ms. */
const STAYS_MS = 180 * 86_400_000;

interface Network {
  /** The port that others on the network reach; undefined where none does. */
  readonly port: () => number | undefined;
}

/** Who is let in, and who lets in: only whoever sits at the machine itself. */
export function deviceRoutes({ db, live }: ServerContext, database: string, { port }: Network): Router {
  const limit = (keyPrefix: string, points: number) =>
    new RateLimiterMySQL({
      storeClient: db,
      storeType: 'knex',
      dbName: database,
      tableName: 'attempts',
      tableCreated: true,
      clearExpiredByTimeout: false,
      keyPrefix,
      points,
      duration: TRIES.seconds,
    });
  const [each, all] = [limit('entry', TRIES.each), limit('entries', TRIES.all)];
  return serveRoutes(DEVICE_ROUTES, {
    here: ({ res }) => {
      const asker = askerOf(res);
      return {
        isIn: asker !== undefined,
        device: typeof asker === 'object' ? deviceView(asker) : null,
        isOnNetwork: port() !== undefined,
      };
    },
    devices: ({ res }) => {
      assertThisMachine(res);
      return devices(db);
    },
    makeEntryCode: async ({ res }) => {
      assertThisMachine(res);
      const at = port();
      if (at === undefined)
        throw new Fault('conflict', 'Nobody on the network can get in.', 'Start Old Echo with npm start -- --network.');
      const { code, endsAt } = await makeEntryCode(db, new Date());
      return { code, endsAt: endsAt.toISOString(), addresses: ownAddresses().map((host) => `https://${host}:${at}`) };
    },
    enter: async ({ req, res, body }) => {
      const asker = askerOf(res);
      if (typeof asker === 'object') return deviceView(asker);
      if (!isByTls(req))
        throw new Fault(
          'conflict',
          'Devices get in by https alone.',
          'Open the address that is shown beside the code.',
        );
      await count(db, each, req.socket.remoteAddress ?? '');
      await count(db, all, 'all');
      const { device, token } = await enter(db, body, new Date());
      res.cookie(COOKIE, token, { httpOnly: true, secure: true, sameSite: 'strict', path: '/', maxAge: STAYS_MS });
      return device;
    },
    shutOut: async ({ res, params }) => {
      assertThisMachine(res);
      const device = await shutOut(db, params.id, new Date());
      live.closeDevices([device.id]);
      return device;
    },
  });
}

function assertThisMachine(res: Response): void {
  if (askerOf(res) !== 'this machine')
    throw new Fault(
      'forbidden',
      'Devices are let in and shut out only at the machine Old Echo runs on.',
      'Nothing was changed.',
    );
}

/** @throws Fault `try-later` once that was too often */
async function count(db: Database, limiter: RateLimiterMySQL, key: string): Promise<void> {
  await db('attempts').where('expire', '<', new Date().getTime()).delete();
  await limiter.consume(key).catch((error: unknown) => {
    if (!(error instanceof RateLimiterRes)) throw error;
    const seconds = Math.ceil(error.msBeforeNext / 1000);
    throw new Fault('try-later', 'Too many codes were tried.', `Nobody was let in. Try again in ${seconds} s.`);
  });
}

/** The addresses of this machine on its networks. */
const ownAddresses = (): string[] => {
  const found = Object.values(networkInterfaces()).flatMap((all = []) =>
    all.flatMap(({ family, internal, address }) => (family === 'IPv4' && !internal ? [address] : [])),
  );
  return found.length > 0 ? found : ['127.0.0.1'];
};
