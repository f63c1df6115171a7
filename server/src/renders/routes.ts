import { existsSync } from 'node:fs';

import { Router } from 'express';
import { boolean, object, string } from 'yup';

import { Fault } from '@old-echo/core/contracts/fault';
import { readShape } from '@old-echo/core/contracts/read';
import { renderShape } from '@old-echo/core/contracts/sound';
import { DEPTHS } from '@old-echo/core/formats/wav';

import type { Database } from '../database/connect';
import type { SoundFiles } from '../sound/files';
import type { SoundPool } from '../sound/pool';
import type { Mixer } from './mixer';
import { askToCancel, renderView } from './store';

const bounceShape = object({
  depth: string().oneOf(DEPTHS).default('24'),
  dither: boolean().default(true),
  /** What the file is to be called. */
  name: string().trim().max(120).default('Mix'),
}).noUnknown();

export function renderRoutes(db: Database, files: SoundFiles, pool: SoundPool, mixer: Mixer): Router {
  const fileOf = (id: string): string => {
    const file = files.mix(id);
    if (!/^[0-9a-f]{64}$/.test(id) || !existsSync(file))
      throw new Fault('not-found', 'This mix is not worked out.', 'Listen to it again first.');
    return file;
  };
  return Router()
    .post('/', async (req, res) => {
      res.status(202).json(await mixer.begin(readShape(renderShape, req.body)));
    })
    .get('/:id', async (req, res) => {
      res.json(await renderView(db, req.params.id));
    })
    .post('/:id/cancel', async (req, res) => {
      await askToCancel(db, req.params.id);
      res.json(await renderView(db, req.params.id));
    })
    .get('/:id/sound.wav', (req, res) => {
      // Named by its content, so it never changes.
      res.sendFile(fileOf(req.params.id), {
        immutable: true,
        maxAge: '7d',
        dotfiles: 'allow',
        headers: { 'Content-Type': 'audio/wav' },
      });
    })
    .get('/:id/bounce.wav', async (req, res) => {
      const { depth, dither, name } = readShape(bounceShape, req.query);
      const { bytes } = await pool.run({
        do: 'bounce',
        file: fileOf(req.params.id),
        depth,
        dither: dither && depth !== 'float',
      });
      res
        .attachment(`${name.replace(/[^\p{L}\p{N} ,–-]/gu, '')}.wav`)
        .type('audio/wav')
        .send(Buffer.from(bytes ?? []));
    });
}
