import type { Request, Response, Router } from 'express';

import type { DeviceView } from '@old-echo/core/contracts/device';
import type { HereView } from '@old-echo/core/contracts/person';
import { DEVICE_ROUTES } from '@old-echo/core/contracts/routes/people-routes';
import { Fault } from '@old-echo/core/fault/fault';

import type { ServerContext } from '../desk/server-context';
import { DONE, serveRoutes } from '../http/serve-routes';
import { AttemptLimit } from '../secrets/attempt-limit';
import { hashSecret, isSecret } from '../secrets/hash-secret';
import { addDevice, deviceView, enter, type Entered, shutOut, shutOutOthers } from './device-store';
import { assertGoodPassword } from './good-password';
import { setPasswordHash } from './person-store';
import { askerOf, cookieOf, isByTls, type Network, roleOf, type Visitor } from './who-asks';

/** How long a device stays in that is not shut out, in ms. */
const STAYS_MS = 180 * 86_400_000;

/** How one gets in, and out again. */
export function deviceRoutes({ db, live, database }: ServerContext, network: Network): Router {
  const limit = (name: string, points: number, seconds: number) =>
    new AttemptLimit(db, database, { name, points, seconds });
  const codes = { each: limit('entry', 10, 120), all: limit('entries', 50, 120) };
  const passwords = { each: limit('sign-in', 10, 300), all: limit('sign-ins', 100, 300) };
  const counted = async ({ each, all }: typeof codes, key: string) => {
    await each.count(key);
    await all.count('all');
  };
  const letDeviceIn = (res: Response, { device, token }: Entered): DeviceView => {
    const isSecure = !network.isPlain;
    res.cookie(cookieOf(network), token, {
      httpOnly: true,
      secure: isSecure,
      sameSite: 'strict',
      path: '/',
      maxAge: STAYS_MS,
    });
    return device;
  };
  const assertNotPlain = (req: Request, what: string) => {
    if (!isByTls(req))
      throw new Fault(
        'conflict',
        `${what} by https alone.`,
        'Nothing was done. Open the address that begins with https.',
      );
  };
  return serveRoutes(DEVICE_ROUTES, {
    here: ({ res }) => hereOf(res, network),
    enter: async ({ req, res, body }) => {
      const asker = askerOf(res);
      if (typeof asker === 'object') return deviceView(asker.device);
      if (!network.isPlain || req.socket.localPort !== network.port()) assertNotPlain(req, 'Devices get in');
      const from = req.socket.remoteAddress ?? '';
      await counted(codes, from);
      const entered = await enter(db, body, new Date());
      await codes.each.forget(from);
      return letDeviceIn(res, entered);
    },
    signIn: async ({ req, res, body: { name, password, device } }) => {
      assertNotPlain(req, 'Passwords are taken');
      await counted(passwords, req.socket.remoteAddress ?? '');
      await passwords.each.count(`of ${name.toLowerCase()}`);
      const person = await db('people').where({ name }).first();
      if (!(await isSecret(person?.password_hash ?? null, password)) || !person)
        throw new Fault(
          'wrong-secret',
          'Nobody is let in by this name and password.',
          'Try again, or ask for a code at the machine Old Echo runs on.',
        );
      await passwords.each.forget(`of ${name.toLowerCase()}`);
      return letDeviceIn(res, await addDevice(db, person.id, device, new Date()));
    },
    signOut: async ({ res }) => {
      const { device } = visitorOf(res);
      await shutOut(db, device.id, new Date());
      live.closeDevices([device.id]);
      res.clearCookie(cookieOf(network), { secure: !network.isPlain, sameSite: 'strict', path: '/' });
      return DONE;
    },
    setPassword: async ({ req, res, body: { current, password, signOutOthers } }) => {
      assertNotPlain(req, 'Passwords are taken');
      const { person, device } = visitorOf(res);
      await passwords.each.count(`of ${person.name.toLowerCase()}`);
      if (person.password_hash !== null && !(await isSecret(person.password_hash, current)))
        throw new Fault(
          'wrong-secret',
          'This is not the password until now.',
          'Nothing was changed. Try again.',
          'current',
        );
      if (password !== null) assertGoodPassword(password, person.name);
      await setPasswordHash(db, person.id, password === null ? null : await hashSecret(password));
      await passwords.each.forget(`of ${person.name.toLowerCase()}`);
      if (signOutOthers) live.closeDevices(await shutOutOthers(db, person.id, device.id, new Date()));
      return DONE;
    },
  });
}

function hereOf(res: Response, { port, isPlain }: Network): HereView {
  const asker = askerOf(res);
  const visitor = typeof asker === 'object' ? asker : undefined;
  return {
    role: roleOf(asker),
    productions: visitor?.productions ?? [],
    device: visitor ? deviceView(visitor.device) : null,
    person: visitor
      ? { id: visitor.person.id, name: visitor.person.name, hasPassword: visitor.person.password_hash !== null }
      : null,
    network: port() === undefined ? null : isPlain ? 'http' : 'https',
  };
}

/** @throws Fault `conflict` at the machine that Old Echo runs on */
function visitorOf(res: Response): Visitor {
  const asker = askerOf(res);
  if (typeof asker !== 'object')
    throw new Fault('conflict', 'Whoever sits at this machine is always in.', 'Nothing was changed.');
  return asker;
}
