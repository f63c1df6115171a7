import { setTimeout as pause } from 'node:timers/promises';

import { PIECE_SECONDS } from '@old-echo/core/contracts/sound';
import { KeptSums } from '@old-echo/server/sound/kept-sums';
import { MixesAtWork } from '@old-echo/server/sound/mixes-at-work';
import { RenderCache } from '@old-echo/server/sound/render-cache';
import type { StreamedMix } from '@old-echo/server/sound/render-stream';
import { packedPiece, type PiecePlace } from '@old-echo/server/sound/send-piece';
import { Turns } from '@old-echo/server/sound/turns';
import type { WorkerPool } from '@old-echo/server/sound/worker-pool';

import { print } from './figure';
import { EVERY_STRIP, type LongSession, RATE, SECONDS, SESSION } from './long-session';

/** So often it is looked whether a piece is there, in ms. */
const LOOK_MS = 5;
/** Bytes of a piece as a WAV file of 24 bits and two channels. */
const WAV_PIECE = PIECE_SECONDS * RATE * 2 * 3;

interface Session extends Pick<LongSession, 'folder' | 'recordings' | 'mixOf'> {
  readonly pool: WorkerPool;
  /** Of mixes that were worked out whole. */
  readonly sums: KeptSums;
}

/**
 * From asking for mixes of the long session until the first piece of each can be sent, packed.
 * @param whole how long one mix, and two, take to be worked out whole, in ms
 */
export async function firstSounds(
  session: Session,
  whole: { readonly one: number; readonly both: number },
): Promise<void> {
  const { mixOf } = session;
  const middle = SECONDS / 2;
  const pair = () => [mixOf({}, 'a.wav'), mixOf(EVERY_STRIP, 'b.wav')];
  const cold = () => ({ ...session, sums: new KeptSums(session.folder) });
  const atOnce = await firstSound(cold(), pair(), 0);
  const within = await firstSound(cold(), pair(), middle);
  const fader = await firstSound(session, [mixOf({ 'in.1/fader/level': -7 }, 'c.wav')], middle);
  print({
    name: `${SESSION}: from asking for two mixes to the first sound of both, at the beginning (other: both of them whole)`,
    ours: atOnce.ms,
    other: whole.both,
    unit: 'ms',
    goal: { most: 1500 },
  });
  print({
    name: `${SESSION}: from asking for two mixes to the first sound of both, in the middle (other: both of them whole)`,
    ours: within.ms,
    other: whole.both,
    unit: 'ms',
    goal: { most: 1500 },
  });
  print({
    name: `${SESSION}: from moving one fader to the sound in the middle (other: the whole mix)`,
    ours: fader.ms,
    other: whole.one,
    unit: 'ms',
    goal: { most: 400 },
  });
  print({
    name: `${SESSION}: bytes of a minute of one mix as it is listened to (other: WAV of 24 bits)`,
    ours: (within.bytes * 60) / PIECE_SECONDS / 1e6,
    other: (WAV_PIECE * 60) / PIECE_SECONDS / 1e6,
    unit: 'MB',
    goal: { most: (0.6 * WAV_PIECE * 60) / PIECE_SECONDS / 1e6 },
  });
}

/** How long it takes, in ms, and how many bytes a piece of a mix has. */
async function firstSound(
  { pool, folder, recordings, sums }: Session,
  mixes: readonly StreamedMix[],
  second: number,
): Promise<{ ms: number; bytes: number }> {
  const start = performance.now();
  const failed = (error: unknown) => {
    throw error;
  };
  const tools = { pool, memory: new RenderCache(), sums, turns: new Turns(), arriving: folder };
  const atWork = new MixesAtWork(tools, mixes, recordings, failed);
  const ended = atWork.run().catch(() => undefined);
  const packed = await Promise.all(
    mixes.map(async (_, mix) => {
      let place: PiecePlace | undefined;
      while (!(place = atWork.find(mix, second / PIECE_SECONDS))) await pause(LOOK_MS);
      return packedPiece(pool, place);
    }),
  );
  const ms = performance.now() - start;
  atWork.stop();
  await ended;
  return { ms, bytes: packed.reduce((sum, { bytes }) => sum + bytes.length, 0) / packed.length };
}
