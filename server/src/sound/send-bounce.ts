import { createReadStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

import type { Response } from 'express';

import { fileName } from '../http/safe-file-name';
import type { Bounce, BouncePiece } from './bounce-file';
import type { WorkerPool } from './worker-pool';

/** The bytes of a bounce, each piece made when it is its turn: neither a file nor a thread waits for whoever takes it slowly. */
export async function bounceStream(pool: WorkerPool, bounce: Bounce): Promise<{ size: number; bytes: Readable }> {
  const pieceFrom = async (from: number): Promise<BouncePiece> => {
    const { bounced } = await pool.run({ do: 'bounce', bounce, from });
    if (!bounced) throw new Error('nothing was bounced');
    return bounced;
  };
  const first = await pieceFrom(0);
  async function* pieces() {
    for (let piece = first; ; piece = await pieceFrom(piece.next)) {
      yield piece.bytes;
      if (piece.next === undefined) return;
    }
  }
  return { size: first.size, bytes: Readable.from(pieces()) };
}

/** Answers with a bounce as a file of a name. */
export async function sendBounce(res: Response, pool: WorkerPool, bounce: Bounce, name: string): Promise<void> {
  const { size, bytes } = await bounceStream(pool, bounce);
  res
    .attachment(`${fileName(name)}.wav`)
    .type('audio/wav')
    .set('Content-Length', String(size));
  await pipeline(bytes, res);
}

/** Answers with a bounce as a FLAC file of a name, once all of it is packed. @param to where it is until it is sent */
export async function sendFlac(
  res: Response,
  pool: WorkerPool,
  bounce: Bounce,
  { name, to }: { readonly name: string; readonly to: string },
): Promise<void> {
  try {
    await pool.run({ do: 'pack flac', bounce, to });
    const { size } = await stat(to);
    res
      .attachment(`${fileName(name)}.flac`)
      .type('audio/flac')
      .set('Content-Length', String(size));
    await pipeline(createReadStream(to), res);
  } finally {
    await rm(to, { force: true });
  }
}
