import type { Request, RequestHandler } from 'express';

import { Fault } from '@old-echo/core/fault/fault';

/** Requests at work at once: more of them only make each other slower. */
const MOST_AT_ONCE = 12;
/** How long the others wait for their turn, in ms: a moment's crowd is served, a lasting one is sent away at once (as CoDel, RFC 8289). */
const PATIENCE_MS = 1500;
const LASTING_MS = 1500;
const PATIENCE_IN_A_LASTING_CROWD_MS = 100;

/** What a person at a desk is in the middle of: a move by hand, a restore, its end. */
const URGENT = [/^\/desks\/[^/]+\/(settings|restores)$/, /^\/restores\/[^/]+\/cancel$/];

const isUrgent = ({ method, path }: Request): boolean => method === 'POST' && URGENT.some((route) => route.test(path));

/** Those that only wait, for a mix, or for a file that arrives or is taken along, keep nobody else from anything. */
const onlyWaits = ({ method, path, query }: Request): boolean =>
  query['wait'] !== undefined ||
  (method === 'GET' ? /\.(wav|zip)$/.test(path) : /^\/(productions\/[^/]+\/stems\/|imports$)/.test(path));

/**
 * Lets so many requests work at once, the others in their turn, and sends away with a time to come back whoever would wait too long.
 * Restores and moves by hand always pass.
 */
export function shedLoad(): RequestHandler {
  let atWork = 0;
  /** Since when somebody has been waiting at every moment. */
  let crowdedSince: number | undefined;
  const waiting = new Set<() => void>();
  const next = () => {
    const [first] = waiting;
    if (first) first();
    else crowdedSince = undefined;
  };
  return (req, res, pass) => {
    if (isUrgent(req) || onlyWaits(req)) return pass();
    const work = () => {
      atWork++;
      res.once('close', () => {
        atWork--;
        next();
      });
      pass();
    };
    if (atWork < MOST_AT_ONCE) return work();
    const now = performance.now();
    crowdedSince ??= now;
    const patience = now - crowdedSince > LASTING_MS ? PATIENCE_IN_A_LASTING_CROWD_MS : PATIENCE_MS;
    const leave = () => {
      clearTimeout(timer);
      waiting.delete(turn);
    };
    const turn = () => {
      leave();
      res.off('close', leave);
      work();
    };
    const timer = setTimeout(() => {
      leave();
      pass(
        new Fault('try-later', 'Old Echo is busy with many other requests.', 'Nothing was changed. Try again shortly.'),
      );
    }, patience);
    waiting.add(turn);
    res.once('close', leave);
  };
}
