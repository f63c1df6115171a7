import { existsSync } from 'node:fs';

import type { Response } from 'express';

import { HALVED_HEADER, MIX_RATE, PIECE_SECONDS } from '@old-echo/core/contracts/sound';
import { Fault } from '@old-echo/core/fault/fault';

import type { PackedSound } from './pack-flac';
import type { WorkerPool } from './worker-pool';

/** The number of a piece, as it stands in an address. @throws Fault `not-found` */
export function pieceNumber(said: string): number {
  if (!/^\d{1,6}$/.test(said))
    throw new Fault('not-found', 'There is no such piece of a mix.', 'Listen to it from its beginning.');
  return Number(said);
}

/** Where a piece of a mix is. */
export interface PiecePlace {
  readonly file: string;
  /** The sample of the file that it begins with. */
  readonly from: number;
  /** Whether the file is still being written, but that far. */
  readonly grows?: boolean;
}

/** The place of a piece in a whole mix. */
export const pieceOf = (file: string, piece: number): PiecePlace => ({ file, from: piece * PIECE_SECONDS * MIX_RATE });

/** A piece of a mix, packed. @throws Fault `not-found` for what is not there */
export async function packedPiece(pool: WorkerPool, { file, from, grows = false }: PiecePlace): Promise<PackedSound> {
  if (!existsSync(file)) throw new Fault('not-found', 'This mix is not rendered.', 'Listen to it again first.');
  const { packed } = await pool.run({ do: 'piece', file, from, grows });
  if (!packed) throw new Error('nothing was packed');
  return packed;
}

export function sendPiece(res: Response, { bytes, halved }: PackedSound): void {
  res.set(HALVED_HEADER, String(halved)).type('audio/flac').send(Buffer.from(bytes));
}
