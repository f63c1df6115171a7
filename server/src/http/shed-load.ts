import type { Request, RequestHandler } from 'express';

import { Fault } from '@old-echo/core/fault/fault';

/** Requests at work at once. What comes on top would only make all of them wait longer. */
const MOST_AT_ONCE = 48;

/** What a person at a desk is in the middle of: a move by hand, a restore, its end. */
const URGENT = [/^\/desks\/[^/]+\/(settings|restores)$/, /^\/restores\/[^/]+\/cancel$/];

const isUrgent = ({ method, path }: Request): boolean => method === 'POST' && URGENT.some((route) => route.test(path));

/** Those that only wait, for a mix or for a file that arrives, keep nobody else from anything. */
const onlyWaits = ({ method, path, query }: Request): boolean =>
  query['wait'] !== undefined || (method !== 'GET' && /^\/(productions\/[^/]+\/stems\/|imports$)/.test(path));

/** Sends requests away with a time to come back while too many are at work; restores and moves by hand always pass. */
export function shedLoad(): RequestHandler {
  let atWork = 0;
  return (req, res, next) => {
    if (isUrgent(req) || onlyWaits(req)) return next();
    if (atWork >= MOST_AT_ONCE)
      throw new Fault(
        'try-later',
        'Old Echo is busy with many other requests.',
        'Nothing was changed. Try again shortly.',
      );
    atWork++;
    res.once('close', () => atWork--);
    next();
  };
}
