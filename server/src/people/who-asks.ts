import type { IncomingMessage } from 'node:http';
import { BlockList, isIPv6 } from 'node:net';

import { parse } from 'cookie';
import type { RequestHandler, Response } from 'express';

import type { ProductionRole } from '@old-echo/core/contracts/person';
import type { Role } from '@old-echo/core/contracts/role';
import { accessOf } from '@old-echo/core/contracts/route';
import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';
import { Fault } from '@old-echo/core/fault/fault';
import { MAX_SIGNATURE_LENGTH } from '@old-echo/core/fault/text-shapes';

import type { Database } from '../database/connect';
import type { DeviceRow, PersonRow } from '../database/tables';
import { deviceWith } from './device-store';
import { productionRoles } from './person-store';

/** Bound to this server, sent by TLS alone, and read by no script (RFC 6265bis, 4.1.3.2). */
const COOKIE = '__Host-old-echo';
/** Where TLS cannot be had: whoever listens on that network can take it. */
const PLAIN_COOKIE = 'old-echo';

/** Somebody on a device that was let in. */
export interface Visitor {
  readonly device: DeviceRow;
  readonly person: PersonRow;
  readonly productions: readonly ProductionRole[];
}

/** The machine that Old Echo runs on, somebody who was let in, or nobody who is. */
export type Asker = 'this machine' | Visitor | undefined;

const LOOPBACK = new BlockList();
LOOPBACK.addSubnet('127.0.0.0', 8, 'ipv4');
LOOPBACK.addAddress('::1', 'ipv6');

type Asked = Pick<IncomingMessage, 'socket'>;

export const isByTls = ({ socket }: Asked): boolean => 'encrypted' in socket && socket.encrypted === true;

/** How others on the network reach a server. */
export interface Network {
  /** The port of that; undefined where none does. */
  readonly port: () => number | undefined;
  /** Without TLS: only devices get in, no password is taken. */
  readonly isPlain: boolean;
}

/** Whether a request came in where others on the network ask. */
const isFromNetwork = ({ socket }: Asked, { port }: Network): boolean => socket.localPort === port();

export const cookieOf = ({ isPlain }: Network): string => (isPlain ? PLAIN_COOKIE : COOKIE);

/**
 * Who a request comes from. Whoever sits at this machine may do everything; from elsewhere only a device counts that was let in.
 */
export async function whoAsks(db: Database, request: IncomingMessage, network: Network): Promise<Asker> {
  if (!isFromNetwork(request, network)) {
    const from = request.socket.remoteAddress ?? '';
    return LOOPBACK.check(from, isIPv6(from) ? 'ipv6' : 'ipv4') ? 'this machine' : undefined;
  }
  const token = parse(request.headers.cookie ?? '')[cookieOf(network)];
  const found = token ? await deviceWith(db, token, new Date()) : undefined;
  return found && { ...found, productions: await productionRoles(db, found.person.id) };
}

/** What may be asked before one is let in. */
const OPEN = Object.values(ROUTES.people)
  .filter((route) => accessOf(route) === 'nothing')
  .map(({ method, path }) => ({
    method: method.toUpperCase(),
    at: new RegExp(`^${path.replaceAll('.', '\\.').replaceAll(/:\w+/g, '[\\w-]+')}$`),
  }));

/** Refuses whoever was not let in before anything else of a request is read, and keeps who asks. */
export const letIn =
  (db: Database, network: Network): RequestHandler =>
  async (req, res, next) => {
    const asker = await whoAsks(db, req, network);
    res.locals['asker'] = asker;
    const isOpen = OPEN.some(({ method, at }) => req.method === method && at.test(req.path));
    if (!asker && !isOpen)
      throw new Fault(
        'not-let-in',
        'This device is not let in.',
        isFromNetwork(req, network)
          ? 'Ask for a code at the machine Old Echo runs on: Settings, People.'
          : 'Over the network Old Echo is opened by https, once it was started with --network.',
      );
    next();
  };

export const askerOf = (res: Response): Asker => res.locals['asker'] as Asker;

/** What somebody may do where nothing else was said. */
export const roleOf = (asker: Asker): Role | null =>
  asker === 'this machine' ? 'owner' : (asker?.person.role ?? null);

/** "Rosa Tidewell, Phone at front of house" */
export const signatureOf = ({ person, device }: Visitor): string =>
  `${person.name}, ${device.name}`.slice(0, MAX_SIGNATURE_LENGTH);
