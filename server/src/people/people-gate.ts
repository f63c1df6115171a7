import type { RequestHandler } from 'express';

import { accessOf, isChange } from '@old-echo/core/contracts/route';

import type { ServerContext } from '../desk/server-context';
import type { MayAsk } from '../http/serve-routes';
import type { ChangeLog } from './change-log';
import { type AboutRequests, assertMayAsk } from './may-ask';
import { askerOf } from './who-asks';

/** Gives every route what says whether it may be asked for, and keeps who changed what by it. Stands behind {@link letIn}. */
export const peopleGate =
  ({ log, tasks }: ServerContext, changes: ChangeLog, about: AboutRequests): RequestHandler =>
  (_req, res, next) => {
    const mayAsk: MayAsk = async (route, req) => {
      await assertMayAsk(route, req, res, about);
      if (!isChange(route) || !askerOf(res)) return;
      const [id] = Object.values(req.params);
      const change = changes.begin(askerOf(res), route, typeof id === 'string' ? id : undefined);
      if (!change) return;
      res.once('finish', () => {
        if (res.statusCode < 400) tasks.add(change.keep().catch((error: unknown) => log.error(error, 'change log')));
      });
      // What is removed has its name no longer. Hands do not wait for the database.
      if (accessOf(route) !== 'in the studio') await change.named;
    };
    res.locals['mayAsk'] = mayAsk;
    next();
  };
