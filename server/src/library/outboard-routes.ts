import { readFile } from 'node:fs/promises';

import express, { type Router } from 'express';

import { MAX_PHOTO_BYTES } from '@old-echo/core/contracts/outboard';
import { OUTBOARD_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { Fault } from '@old-echo/core/fault/fault';

import type { ServerContext } from '../desk/server-context';
import { serveRoutes } from '../http/serve-routes';
import { removeRow } from '../removed/removed-store';
import { editOutboard, insertOutboard, outboard, pictureType, setPhoto, storePhoto } from './outboard-store';

/** What stands beside the desk of a production. */
export const outboardRoutes = ({ db, files }: ServerContext): Router =>
  serveRoutes(
    OUTBOARD_ROUTES,
    {
      outboard: ({ params }) => outboard(db, params.production),
      outboardPhoto: async ({ params: { hash }, res }) => {
        const bytes = /^[0-9a-f]{64}$/.test(hash)
          ? await readFile(files.photo(hash)).catch(() => undefined)
          : undefined;
        if (!bytes) throw new Fault('not-found', 'This photo no longer exists.', 'Go back to the unit.');
        res
          .type(pictureType(bytes) ?? 'application/octet-stream')
          .set('cache-control', 'max-age=604800, immutable')
          .send(bytes);
      },
      addOutboard: ({ params, body }) => insertOutboard(db, params.production, body),
      editOutboard: ({ params, body }) => editOutboard(db, params.production, params.id, body),
      setOutboardPhoto: async ({ params, req }) => {
        const hash = await storePhoto(files, Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0));
        return setPhoto(db, params.production, params.id, hash);
      },
      removeOutboard: ({ params: { id, production } }) => removeRow(db, 'outboard', { id, production_id: production }),
    },
    { setOutboardPhoto: express.raw({ type: () => true, limit: MAX_PHOTO_BYTES }) },
  );
