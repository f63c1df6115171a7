import type { Response, Router } from 'express';

import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';

import { deskRow } from '../desk/desk-store';
import type { ServerContext } from '../desk/server-context';
import { assertNotShowLocked } from '../desk/show-lock';
import { DONE, serveRoutes } from '../http/serve-routes';
import { acceptedIn, forgetAccepted } from './accepted-cautions';
import type { CancelRequests } from './cancel-requests';
import { planRecall } from './plan-recall';
import { startRestore } from './restore-runner';
import { restoreLog } from './restore-store';
import type { RunnerTools } from './restore-tools';
import { announceRipple } from './ripple-routes';
import { previewRipple, startRipple } from './ripple-store';
import { swap } from './swap';

/** Below a desk: previews, restores and their log, swaps, ripples, and what was accepted. */
export function deskRecallRoutes(context: ServerContext, controls: CancelRequests): Router {
  const { db, live, desks } = context;
  const runner = (desk: string, res: Response): RunnerTools => ({
    ...context,
    controls,
    session: desks.of(desk),
    isAwaited: () => !res.headersSent,
  });
  return serveRoutes(DESK_RECALL_ROUTES, {
    previewRestore: async ({ params, body }) => (await planRecall(db, desks.of(params.id), body)).preview,
    previewRipple: ({ params, body }) => previewRipple(db, params.id, body),
    startRipple: ({ params, body }) => startRipple(context, params.id, body, (id) => announceRipple(db, live, id)),
    accepted: ({ params, query }) => acceptedIn(db, { deskId: params.id, ...query }),
    forgetAccepted: async ({ params, query }) => {
      assertNotShowLocked(await deskRow(db, params.id));
      await forgetAccepted(db, { deskId: params.id, ...query });
      return DONE;
    },
    restoreLog: ({ params, query: { before } }) => restoreLog(db, params.id, before ? new Date(before) : undefined),
    swap: ({ params, body, res }) => swap(runner(params.id, res), body.by),
    startRestore: ({ params, body, res }) => startRestore(runner(params.id, res), body),
  });
}
