import { existsSync } from 'node:fs';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

import { Router } from 'express';
import { ZipFile } from 'yazl';
import { array, boolean, number, object, string } from 'yup';

import { renderShape } from '@old-echo/core/contracts/sound';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { loudnessReport } from '@old-echo/core/phrases/loudness-report';
import { type BitDepth, DEPTHS } from '@old-echo/core/signal/wav';
import type { Loudness } from '@old-echo/core/sound/loudness';

import type { ServerContext } from '../desk/server-context';
import { fileName } from '../http/safe-file-name';
import { requestCancel } from '../jobs/job-store';
import type { RenderService } from './render-service';
import { renderView } from './render-store';
import type { WorkerPool } from './worker-pool';

const depthShape = string().oneOf(DEPTHS).default('24');
const nameShape = string().trim().max(120).default('Mix');

const bounceShape = object({
  depth: depthShape,
  dither: boolean().default(true),
  /** What the file is to be called. */
  name: nameShape,
}).noUnknown();

/** The longest that an answer waits for a mix to end, in ms. */
const LONGEST_WAIT = 1000;
const pollShape = object({ wait: number().min(0).max(LONGEST_WAIT).default(0) }).noUnknown();

const reportShape = object({ name: nameShape }).noUnknown();

/** What is named by its content never changes. */
const UNCHANGING = `private, max-age=${7 * 24 * 3600}, immutable`;

/** The most files in one archive. */
const MOST_FILES = 200;
/** An archive of mixes: each `file` is the mix's id, a space, and what it is to be called. */
const archiveShape = object({
  depth: depthShape,
  name: nameShape,
  file: array(
    string()
      .matches(/^[0-9a-f]{64} ./, '${path} must be a mix and a name')
      .required(),
  )
    .transform((_, given: unknown) => [given].flat())
    .min(1)
    .max(MOST_FILES)
    .required(),
}).noUnknown();

export function renderRoutes({ db, files }: ServerContext, pool: WorkerPool, mixer: RenderService): Router {
  const fileOf = (id: string): string => {
    const file = files.mix(id);
    if (!/^[0-9a-f]{64}$/.test(id) || !existsSync(file))
      throw new Fault('not-found', 'This mix is not rendered.', 'Listen to it again first.');
    return file;
  };
  const bounce = async (id: string, depth: BitDepth, dither: boolean): Promise<Uint8Array> => {
    const { bytes } = await pool.run({ do: 'bounce', file: fileOf(id), depth, dither: dither && depth !== 'float' });
    return bytes ?? new Uint8Array();
  };
  const measured = async (id: string, depth: BitDepth): Promise<Loudness> => {
    const { measured } = await pool.run({ do: 'measure', file: fileOf(id), depth, dither: depth !== 'float' });
    if (!measured) throw new Error('nothing was measured');
    return measured.loudness;
  };
  return Router()
    .post('/', async (req, res) => {
      res.status(202).json(await mixer.start(parseShape(renderShape, req.body)));
    })
    .get('/archive.zip', async (req, res) => {
      const { depth, name, file } = parseShape(archiveShape, req.query);
      const zip = new ZipFile();
      for (const one of file) {
        const id = one.slice(0, 64);
        fileOf(id);
        // Each is made when it is its turn, so that only one is in memory.
        zip.addReadStreamLazy(`${fileName(one.slice(65))}.wav`, { compress: false }, (give) => {
          bounce(id, depth, true).then(
            (bytes) => give(null, Readable.from([Buffer.from(bytes)])),
            (error: unknown) => give(error, Readable.from([])),
          );
        });
      }
      zip.end();
      res.attachment(`${fileName(name)}.zip`).type('application/zip');
      await pipeline(zip.outputStream, res);
    })
    .get('/:id/report.txt', async (req, res) => {
      const { name } = parseShape(reportShape, req.query);
      const files = await Promise.all(
        DEPTHS.map(async (depth) => ({ depth, loudness: await measured(req.params.id, depth) })),
      );
      res
        .attachment(`${fileName(name)}, loudness.txt`)
        .type('text/plain')
        .send(loudnessReport(name, files));
    })
    .get('/:id', async (req, res) => {
      const { wait } = parseShape(pollShape, req.query);
      res.json(await mixer.poll(req.params.id, wait));
    })
    .post('/:id/cancel', async (req, res) => {
      await requestCancel(db, req.params.id);
      res.json(await renderView(db, req.params.id));
    })
    .get('/:id/analysis', async (req, res) => {
      const { analysis } = await pool.run({ do: 'analyse', file: fileOf(req.params.id) });
      res.set('Cache-Control', UNCHANGING).json(analysis);
    })
    .get('/:id/audio.wav', (req, res) => {
      // Named by its content, so it never changes.
      res.sendFile(fileOf(req.params.id), {
        immutable: true,
        maxAge: '7d',
        dotfiles: 'allow',
        headers: { 'Content-Type': 'audio/wav' },
      });
    })
    .get('/:id/bounce.wav', async (req, res) => {
      const { depth, dither, name } = parseShape(bounceShape, req.query);
      const bytes = await bounce(req.params.id, depth, dither);
      res
        .attachment(`${fileName(name)}.wav`)
        .type('audio/wav')
        .send(Buffer.from(bytes));
    });
}
