import { pipeline } from 'node:stream/promises';

import { Router } from 'express';
import { object, string } from 'yup';

import { exportShape, importShape, LARGEST_FILE } from '@old-echo/core/contracts/file-transfer';
import { readShape } from '@old-echo/core/fault/parse-shape';

import type { Database } from '../database/connect';
import type { Live } from '../live/live-channel';
import { preset, presets } from '../library/preset-store';
import type { AtWork } from '../jobs/background-tasks';
import { sceneView } from '../scenes/scene-store';
import type { Sessions } from '../desk/desk-connections';
import type { SoundFiles } from '../database/file-store';
import type { Logger } from 'pino';
import { archiveOf, libraryFile, sceneFile } from './export-files';
import { fileName } from '../http/safe-file-name';
import { refused } from './open-file';
import { askToCancel, beginImport, fileProgress, fileView, lastFiles, takeFile } from './import-store';

const nameShape = object({ name: string().trim().max(200).default('A file') }).noUnknown();

interface Tools {
  readonly db: Database;
  readonly files: SoundFiles;
  readonly sessions: Sessions;
  readonly live: Live;
  readonly atWork: AtWork;
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
      const zip = await archiveOf(db, files, req.params.id, readShape(exportShape, req.query));
      const { name } = (await db('productions').where({ id: req.params.id }).first('name')) as { name: string };
      res.attachment(`${fileName(name)}.zip`).type('application/zip');
      await pipeline(zip.outputStream, res);
    })
    .get('/', async (_, res) => {
      res.json(await lastFiles(db));
    })
    .post('/', async (req, res) => {
      const length = Number(req.headers['content-length'] ?? 0);
      if (length > LARGEST_FILE)
        throw refused(`The file has ${(length / 1e9).toFixed(1)} GB; ${LARGEST_FILE / 1e9} GB are the most.`);
      res.status(201).json(await takeFile(db, files, readShape(nameShape, req.query).name, req));
    })
    .get('/:id', async (req, res) => {
      res.json(await fileView(db, files, req.params.id));
    })
    .get('/:id/progress', async (req, res) => {
      res.json(await fileProgress(db, req.params.id));
    })
    .post('/:id/import', async (req, res) => {
      await beginImport(tools, req.params.id, readShape(importShape, req.body));
      res.status(202).json(await fileProgress(db, req.params.id));
    })
    .post('/:id/cancel', async (req, res) => {
      await askToCancel(db, req.params.id);
      res.json(await fileProgress(db, req.params.id));
    });
}
