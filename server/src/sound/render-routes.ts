import { existsSync } from 'node:fs';
import { Readable } from 'node:stream';

import type { Router } from 'express';

import { RENDER_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import { Fault } from '@old-echo/core/fault/fault';
import { loudnessReport } from '@old-echo/core/phrases/loudness-report';
import { type BitDepth, DEPTHS } from '@old-echo/core/signal/wav';
import type { Loudness } from '@old-echo/core/sound/loudness';

import { assertRoom } from '../database/disk-room';
import { found } from '../database/found';
import type { ServerContext } from '../desk/server-context';
import { fileName } from '../http/safe-file-name';
import { serveRoutes } from '../http/serve-routes';
import { addPart, openZip, sendZip } from '../http/zip-download';
import { requestCancel } from '../jobs/job-store';
import type { RenderService } from './render-service';
import { renderView } from './render-store';
import type { WorkerPool } from './worker-pool';

/** What is named by its content never changes. */
const UNCHANGING = `private, max-age=${7 * 24 * 3600}, immutable`;

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
  return serveRoutes(RENDER_ROUTES, {
    startRender: async ({ body }) => {
      await assertRoom(files.arriving);
      return mixer.start(body);
    },
    rendersArchive: async ({ query: { depth, name, file }, res }) => {
      const zip = openZip();
      for (const one of file) {
        const id = one.slice(0, 64);
        fileOf(id);
        // Each is made when it is its turn, so that only one is in memory.
        addPart(zip, `${fileName(one.slice(65))}.wav`, { compress: false }, async () =>
          Readable.from([Buffer.from(await bounce(id, depth, true))]),
        );
      }
      zip.end();
      res.attachment(`${fileName(name)}.zip`).type('application/zip');
      await sendZip(res, zip);
    },
    loudnessReport: async ({ params, query: { name }, res }) => {
      const files = await Promise.all(
        DEPTHS.map(async (depth) => ({ depth, loudness: await measured(params.id, depth) })),
      );
      res
        .attachment(`${fileName(name)}, loudness.txt`)
        .type('text/plain')
        .send(loudnessReport(name, files));
    },
    render: ({ params, query }) => mixer.poll(params.id, query.wait),
    cancelRender: async ({ params }) => {
      await requestCancel(db, params.id);
      return renderView(db, params.id);
    },
    analysis: async ({ params, res }) => {
      const { analysis } = await pool.run({ do: 'analyse', file: fileOf(params.id) });
      res.set('Cache-Control', UNCHANGING);
      return found(analysis);
    },
    renderAudio: ({ params, res }) =>
      res.sendFile(fileOf(params.id), {
        immutable: true,
        maxAge: '7d',
        dotfiles: 'allow',
        headers: { 'Content-Type': 'audio/wav' },
      }),
    bounce: async ({ params, query: { depth, dither, name }, res }) => {
      const bytes = await bounce(params.id, depth, dither);
      res
        .attachment(`${fileName(name)}.wav`)
        .type('audio/wav')
        .send(Buffer.from(bytes));
    },
  });
}
