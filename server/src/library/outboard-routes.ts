import { readFile } from 'node:fs/promises';

import express, { Router } from 'express';

import { MAX_PHOTO_BYTES, outboardEditShape, outboardShape } from '@old-echo/core/contracts/outboard';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';

import type { ServerContext } from '../desk/server-context';
import { productionIdParam } from '../http/production-param';
import { removeRow } from '../removed/removed-store';
import { editOutboard, insertOutboard, outboard, pictureType, setPhoto, storePhoto } from './outboard-store';

/** What stands beside the desk of a production, mounted under it. */
export const outboardRoutes = ({ db, files }: ServerContext): Router =>
  Router({ mergeParams: true })
    .get('/', async (req, res) => {
      res.json(await outboard(db, productionIdParam(req.params)));
    })
    .get('/photos/:hash', async (req, res) => {
      const { hash } = req.params;
      const bytes = /^[0-9a-f]{64}$/.test(hash) ? await readFile(files.photo(hash)).catch(() => undefined) : undefined;
      if (!bytes) throw new Fault('not-found', 'This photo no longer exists.', 'Go back to the unit.');
      res
        .type(pictureType(bytes) ?? 'application/octet-stream')
        .set('cache-control', 'max-age=604800, immutable')
        .send(bytes);
    })
    .post('/', async (req, res) => {
      res
        .status(201)
        .json(await insertOutboard(db, productionIdParam(req.params), parseShape(outboardShape, req.body)));
    })
    .patch('/:id', async (req, res) => {
      const edit = parseShape(outboardEditShape, req.body);
      res.json(await editOutboard(db, productionIdParam(req.params), req.params.id, edit));
    })
    .put('/:id/photo', express.raw({ type: () => true, limit: MAX_PHOTO_BYTES }), async (req, res) => {
      const hash = await storePhoto(files, Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0));
      res.json(await setPhoto(db, productionIdParam(req.params), req.params.id, hash));
    })
    .delete('/:id', async (req, res) => {
      const { id } = req.params;
      res.json(await removeRow(db, 'outboard', { id, production_id: productionIdParam(req.params) }));
    });
