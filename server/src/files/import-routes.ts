import type { Router } from 'express';

import { MAX_ARCHIVE_BYTES } from '@old-echo/core/contracts/file-transfer';
import { IMPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';

import { assertRoom } from '../database/disk-room';
import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { requestCancel } from '../jobs/job-store';
import { invalidFile } from './document';
import { importProgress, importView, receiveFile, recentImports, startImport } from './import-store';

/** Files that are opened, looked into and imported. */
export function importRoutes(context: ServerContext): Router {
  const { db, files } = context;
  return serveRoutes(IMPORT_ROUTES, {
    imports: () => recentImports(db),
    openFile: async ({ query, req }) => {
      const length = Number(req.headers['content-length'] ?? 0);
      if (length > MAX_ARCHIVE_BYTES)
        throw invalidFile(`The file is ${(length / 1e9).toFixed(1)} GB; the limit is ${MAX_ARCHIVE_BYTES / 1e9} GB.`);
      await assertRoom(files.arriving, length);
      return receiveFile(db, files, query.name, req);
    },
    import: ({ params }) => importView(db, files, params.id),
    importProgress: ({ params }) => importProgress(db, params.id),
    startImport: async ({ params, body }) => {
      await assertRoom(files.arriving);
      await startImport(context, params.id, body);
      return importProgress(db, params.id);
    },
    cancelImport: async ({ params }) => {
      await requestCancel(db, params.id);
      return importProgress(db, params.id);
    },
  });
}
