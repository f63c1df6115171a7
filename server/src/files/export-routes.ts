import { pipeline } from 'node:stream/promises';

import { Router } from 'express';

import { exportShape } from '@old-echo/core/contracts/file-transfer';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import { found } from '../database/found';
import type { ServerContext } from '../desk/server-context';
import { fileName } from '../http/safe-file-name';
import { preset, presets } from '../library/preset-store';
import { sceneView } from '../scenes/scene-store';
import { buildArchive, libraryFile, sceneFile } from './export-files';

/** Files to hand to a colleague. */
export const exportRoutes = ({ db, files }: ServerContext): Router =>
  Router()
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
      const { name } = found(await db('productions').where({ id: req.params.id }).first('name'));
      res.attachment(`${fileName(name)}.zip`).type('application/zip');
      await pipeline(zip.outputStream, res);
    });
