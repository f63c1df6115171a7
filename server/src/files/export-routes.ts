import type { Router } from 'express';

import { EXPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';

import { found } from '../database/found';
import type { ServerContext } from '../desk/server-context';
import { fileName } from '../http/safe-file-name';
import { serveRoutes } from '../http/serve-routes';
import { sendZip } from '../http/zip-download';
import { preset, presets } from '../library/preset-store';
import { sceneView } from '../scenes/scene-store';
import { archiveContents, buildArchive, libraryFile, sceneFile } from './export-files';

/** Files to hand to a colleague. */
export const exportRoutes = ({ db, files }: ServerContext): Router =>
  serveRoutes(EXPORT_ROUTES, {
    exportLibrary: async ({ res }) => {
      const ids = (await presets(db)).flatMap(({ id, binnedAt }) => (binnedAt === null ? [id] : []));
      res.attachment('Library.json').json(await libraryFile(db, ids));
    },
    exportPreset: async ({ params, res }) => {
      const { name } = await preset(db, params.id);
      res.attachment(`${fileName(name)}.json`).json(await libraryFile(db, [params.id]));
    },
    exportScene: async ({ params, res }) => {
      const { number, name } = await sceneView(db, params.id);
      res.attachment(`${number} ${fileName(name)}.json`).json(await sceneFile(db, params.id));
    },
    exportContents: ({ params }) => archiveContents(db, files, params.id),
    exportProduction: async ({ params, query, res }) => {
      const zip = await buildArchive(db, files, params.id, query);
      const { name } = found(await db('productions').where({ id: params.id }).first('name'));
      res.attachment(`${fileName(name)}.zip`).type('application/zip');
      await sendZip(res, zip);
    },
  });
