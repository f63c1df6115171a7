import { pipeline } from 'node:stream/promises';

import { Router } from 'express';
import { object, string } from 'yup';

import { exportShape, importShape, MAX_ARCHIVE_BYTES } from '@old-echo/core/contracts/file-transfer';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import type { LiveChannel } from '../live/live-channel';
import { preset, presets } from '../library/preset-store';
import type { BackgroundTasks } from '../jobs/background-tasks';
import { sceneView } from '../scenes/scene-store';
import type { DeskConnections } from '../desk/desk-connections';
import type { FileStore } from '../database/file-store';
import type { Logger } from 'pino';
import { buildArchive, libraryFile, sceneFile } from './export-files';
import { fileName } from '../http/safe-file-name';
import { invalidFile } from './open-file';
import { askToCancel, startImport, fileProgress, fileView, recentImports, receiveFile } from './import-store';

const nameShape = object({ name: string().trim().max(200).default('A file') }).noUnknown();

interface Tools {
  readonly db: Database;
  readonly files: FileStore;
  readonly sessions: DeskConnections;
  readonly live: LiveChannel;
  readonly atWork: BackgroundTasks;
  readonly log: Logger;
}

/** Files to hand to a colleague, out and in. */
export function fileRoutes(tools: Tools): Router {
  const { db, files } = tools;
  return Router()
    .get('/presets', async (_, res) => {
      const ids = (await presets(db)).flatMap(({ id, binnedAt }) => (binnedAt === null ? [id] : []));
      res.attachment('Library.json').json(await libraryFile(db, ids));
    })
    .get('/presets/:id', async (req, res) => {
      const { name } = await preset(db, req.params.id);
      res.attachment(`${fileName(name)}.json`).json(await libraryFile(db, [req.params.id]));
    })
    .get('/scenes/:id', async (req, res) => {
      const { number, name } = await sceneView(db, req.params.id);
      res.attachment(`${number} ${fileName(name)}.json`).json(await sceneFile(db, req.params.id));
    })
    .get('/productions/:id', async (req, res) => {
      const zip = await buildArchive(db, files, req.params.id, parseShape(exportShape, req.query));
      const { name } = (await db('productions').where({ id: req.params.id }).first('name')) as { name: string };
      res.attachment(`${fileName(name)}.zip`).type('application/zip');
      await pipeline(zip.outputStream, res);
    })
    .get('/', async (_, res) => {
      res.json(await recentImports(db));
    })
    .post('/', async (req, res) => {
      const length = Number(req.headers['content-length'] ?? 0);
      if (length > MAX_ARCHIVE_BYTES)
        throw invalidFile(`The file has ${(length / 1e9).toFixed(1)} GB; ${MAX_ARCHIVE_BYTES / 1e9} GB are the most.`);
      res.status(201).json(await receiveFile(db, files, parseShape(nameShape, req.query).name, req));
    })
    .get('/:id', async (req, res) => {
      res.json(await fileView(db, files, req.params.id));
    })
    .get('/:id/progress', async (req, res) => {
      res.json(await fileProgress(db, req.params.id));
    })
    .post('/:id/import', async (req, res) => {
      await startImport(tools, req.params.id, parseShape(importShape, req.body));
      res.status(202).json(await fileProgress(db, req.params.id));
    })
    .post('/:id/cancel', async (req, res) => {
      await askToCancel(db, req.params.id);
      res.json(await fileProgress(db, req.params.id));
    });
}
