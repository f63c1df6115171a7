import { existsSync } from 'node:fs';
import { join } from 'node:path';

import type { Router } from 'express';

import { RENDER_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import { Fault } from '@old-echo/core/fault/fault';
import { loudnessReport } from '@old-echo/core/phrases/loudness-report';
import { type BitDepth, DEPTHS } from '@old-echo/core/signal/wav-header';
import type { Loudness } from '@old-echo/core/sound/loudness';

import { assertRoom } from '../database/disk-room';
import { found } from '../database/found';
import { newId } from '../database/new-id';
import type { ServerContext } from '../desk/server-context';
import { fileName } from '../http/safe-file-name';
import { serveRoutes } from '../http/serve-routes';
import { addPart, openZip, sendZip } from '../http/zip-download';
import { requestCancel } from '../jobs/job-store';
import type { Bounce } from './bounce-file';
import type { RenderService } from './render-service';
import { loudnessOfRender, renderView } from './render-store';
import { bounceStream, sendBounce, sendFlac } from './send-bounce';
import { pieceNumber, sendPiece } from './send-piece';
import type { WorkerPool } from './worker-pool';

/** What is named by its content never changes. */
const UNCHANGING = `private, max-age=${7 * 24 * 3600}, immutable`;

export function renderRoutes({ db, files }: ServerContext, pool: WorkerPool, mixer: RenderService): Router {
  const notRendered = () => new Fault('not-found', 'This mix is not rendered.', 'Listen to it again first.');
  /** Nothing else of what stands in an address becomes part of a path. */
  const mixId = (id: string): string => {
    if (!/^[0-9a-f]{64}$/.test(id)) throw notRendered();
    return id;
  };
  const fileOf = (id: string): string => {
    const file = files.mix(mixId(id));
    if (!existsSync(file)) throw notRendered();
    return file;
  };
  const bounceOf = async (id: string, depth: BitDepth, dither: boolean): Promise<Bounce> => ({
    file: fileOf(id),
    depth,
    dither: dither && depth !== 'float',
    loudness: await loudnessOfRender(db, id),
  });
  const measured = async (id: string, depth: BitDepth): Promise<Loudness> => {
    const { loudness } = await pool.run({ do: 'measure', bounce: await bounceOf(id, depth, true) });
    if (!loudness) throw new Error('nothing was measured');
    return loudness;
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
        addPart(zip, `${fileName(one.slice(65))}.wav`, { compress: false }, async () => {
          const { bytes } = await bounceStream(pool, await bounceOf(id, depth, true));
          return bytes;
        });
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
    renderPiece: async ({ params, query: { wait }, res }) => {
      const packed = await mixer.piece(mixId(params.id), pieceNumber(params.piece), wait);
      res.set('Cache-Control', UNCHANGING);
      sendPiece(res, packed);
    },
    renderAudio: ({ params, res }) =>
      res.sendFile(fileOf(params.id), {
        immutable: true,
        maxAge: '7d',
        dotfiles: 'allow',
        headers: { 'Content-Type': 'audio/wav' },
      }),
    bounce: async ({ params, query: { depth, dither, name }, res }) =>
      sendBounce(res, pool, await bounceOf(params.id, depth, dither), name),
    flacBounce: async ({ params, query: { depth, name }, res }) => {
      const bounce = await bounceOf(params.id, depth, true);
      await assertRoom(files.arriving);
      await sendFlac(res, pool, bounce, { name, to: join(files.arriving, newId()) });
    },
  });
}
