import { Router } from 'express';
import { object, string } from 'yup';

import { importShape, MAX_ARCHIVE_BYTES } from '@old-echo/core/contracts/file-transfer';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { requestCancel } from '../jobs/job-store';
import { importProgress, importView, receiveFile, recentImports, startImport } from './import-store';
import { invalidFile } from './open-file';

const nameShape = object({ name: string().trim().max(200).default('A file') }).noUnknown();

/** Files that are opened, looked into and imported. */
export function importRoutes(context: ServerContext): Router {
  const { db, files } = context;
  return Router()
    .get('/', async (_, res) => {
      res.json(await recentImports(db));
    })
    .post('/', async (req, res) => {
      const length = Number(req.headers['content-length'] ?? 0);
      if (length > MAX_ARCHIVE_BYTES)
        throw invalidFile(`The file is ${(length / 1e9).toFixed(1)} GB; the limit is ${MAX_ARCHIVE_BYTES / 1e9} GB.`);
      res.status(201).json(await receiveFile(db, files, parseShape(nameShape, req.query).name, req));
    })
    .get('/:id', async (req, res) => {
      res.json(await importView(db, files, req.params.id));
    })
    .get('/:id/progress', async (req, res) => {
      res.json(await importProgress(db, req.params.id));
    })
    .post('/:id/start', async (req, res) => {
      await startImport(context, req.params.id, parseShape(importShape, req.body));
      res.status(202).json(await importProgress(db, req.params.id));
    })
    .post('/:id/cancel', async (req, res) => {
      await requestCancel(db, req.params.id);
      res.json(await importProgress(db, req.params.id));
    });
}
