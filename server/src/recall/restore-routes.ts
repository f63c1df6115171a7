import type { Router } from 'express';

import { RESTORE_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';

import type { ServerContext } from '../desk/server-context';
import { DONE, serveRoutes } from '../http/serve-routes';
import type { CancelRequests } from './cancel-requests';
import { askToCancel, loadJournal, markInterrupted, restoreView } from './restore-store';
import { endWalk, markWalk } from './walk';

export function restoreRoutes({ db, live, desks }: ServerContext, controls: CancelRequests): Router {
  const walkOn = async (id: string) => ({ db, live, session: desks.of((await restoreView(db, id)).deskId) });
  return serveRoutes(RESTORE_ROUTES, {
    restore: async ({ params }) => {
      await markInterrupted(db);
      return restoreView(db, params.id);
    },
    journal: ({ params }) => loadJournal(db, params.id),
    cancelRestore: async ({ params, body: { how } }) => {
      // At once where it is at work here; another server hears of it by the database.
      controls.of(params.id)?.ask(how);
      await askToCancel(db, params.id, how);
      return DONE;
    },
    markWalk: async ({ params: { id }, body }) => markWalk(await walkOn(id), id, body.marks),
    endWalk: async ({ params: { id } }) => endWalk(await walkOn(id), id),
  });
}
