import type { IncomingMessage } from 'node:http';
import { BlockList, isIPv6 } from 'node:net';

import { parse } from 'cookie';
import type { RequestHandler, Response } from 'express';

import { DEVICE_ROUTES } from '@old-echo/core/contracts/routes/people-routes';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import type { DeviceRow } from '../database/tables';
import { deviceWith } from './device-store';

/** Bound to this server, sent by TLS alone, and read by no script (RFC 6265bis, 4.1.3.2). */
export const COOKIE = '__Host-old-echo';

/** The machine that Old Echo runs on, a device that was let in, or nobody who is. */
export type Asker = 'this machine' | DeviceRow | undefined;

const LOOPBACK = new BlockList();
LOOPBACK.addSubnet('127.0.0.0', 8, 'ipv4');
LOOPBACK.addAddress('::1', 'ipv6');

export const isByTls = ({ socket }: Pick<IncomingMessage, 'socket'>): boolean =>
  'encrypted' in socket && socket.encrypted === true;

/**
 * Who a request comes from. Whoever sits at this machine may do everything; from elsewhere only a device counts that was let in, over TLS.
 */
export async function whoAsks(db: Database, request: IncomingMessage): Promise<Asker> {
  if (!isByTls(request)) {
    const from = request.socket.remoteAddress ?? '';
    return LOOPBACK.check(from, isIPv6(from) ? 'ipv6' : 'ipv4') ? 'this machine' : undefined;
  }
  const token = parse(request.headers.cookie ?? '')[COOKIE];
  return token ? deviceWith(db, token, new Date()) : undefined;
}

/** What may be asked before one is let in. */
const OPEN = [DEVICE_ROUTES.here, DEVICE_ROUTES.enter];

/** Refuses whoever was not let in, and keeps for the routes who asks. */
export const letIn =
  (db: Database): RequestHandler =>
  async (req, res, next) => {
    const asker = await whoAsks(db, req);
    res.locals['asker'] = asker;
    const isOpen = OPEN.some(({ method, path }) => req.method === method.toUpperCase() && req.path === path);
    if (!asker && !isOpen)
      throw new Fault(
        'not-let-in',
        'This device is not let in.',
        isByTls(req)
          ? 'Ask for a code at the machine Old Echo runs on: Settings, Devices.'
          : 'Over the network Old Echo is opened by https, once it was started with --network.',
      );
    next();
  };

export const askerOf = (res: Response): Asker => res.locals['asker'] as Asker;
