import { Router } from 'express';

import { cancelShape } from '@old-echo/core/contracts/restore';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import type { CancelRequests } from './cancel-requests';
import { askToCancel, loadJournal, markInterrupted, restoreView } from './restore-store';

export const restoreRoutes = ({ db }: ServerContext, controls: CancelRequests): Router =>
  Router()
    .get('/:id', async (req, res) => {
      await markInterrupted(db);
      res.json(await restoreView(db, req.params.id));
    })
    .get('/:id/journal', async (req, res) => {
      res.json(await loadJournal(db, req.params.id));
    })
    .post('/:id/cancel', async (req, res) => {
      const { how } = parseShape(cancelShape, req.body);
      // At once where it is at work here; another server hears of it by the database.
      controls.of(req.params.id)?.ask(how);
      await askToCancel(db, req.params.id, how);
      res.json({});
    });
