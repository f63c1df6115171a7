import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { open, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';

import type { Removal } from '@old-echo/core/contracts/removal';
import { MAX_STEM_BYTES, stemTooLargeFault, type StemView } from '@old-echo/core/contracts/sound';
import { stripFamily } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';
import { factorToDb } from '@old-echo/core/signal/sound';
import { parseWavHeader, peakOf, SILENT_STEM_PEAK, type WavInfo } from '@old-echo/core/signal/wav';

import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { newId } from '../database/new-id';
import type { StemRow } from '../database/tables';
import { removedRowsOf, removeRow } from '../removed/removed-store';
import { profileOfProduction } from '../scenes/production-store';

export const stemRows = (db: Database, productionId: string): Promise<StemRow[]> =>
  db('stems').where({ production_id: productionId });

/** The stems of a production, in the order of their strips' names. */
export const stems = async (db: Database, productionId: string): Promise<StemView[]> =>
  (await stemRows(db, productionId)).map(({ strip, name, hash, rate, channels, depth, frames, silent, peak_db }) => ({
    strip,
    name,
    hash,
    rate,
    channels,
    depth,
    seconds: frames / rate,
    silent: silent === 1,
    peak: peak_db,
  }));

/** A stem whose file is kept; the gain of its preamp when it was recorded, and its peak, in dB. */
type KeptStem = Pick<StemRow, 'strip' | 'name' | 'hash' | 'rate' | 'channels' | 'depth' | 'frames'> & {
  readonly gain: number;
  readonly peak: number | null;
};

/** Enters stems whose files are kept already, on strips that have none. */
export async function addStems(tx: Database, productionId: string, stems: readonly KeptStem[]): Promise<void> {
  const rows = stems.map(({ gain, peak, ...stem }) => ({
    ...stem,
    production_id: productionId,
    recorded_gain_db: gain,
    peak_db: peak,
    made_at: new Date(),
  }));
  if (rows.length > 0) await tx('stems').insert(rows);
}

interface NewStem {
  readonly productionId: string;
  readonly strip: string;
  readonly name: string;
  /** What the strip's gain and pad are now, in dB. */
  readonly gain: number;
}

/**
 * Attaches a WAV file to a strip, in the place of one it may have had. Nothing is kept of a file that cannot be read, is too
 * large or breaks off.
 * @throws Fault `refused-input` with a sentence, `not-found`
 */
export async function attachStem(db: Database, files: FileStore, stem: NewStem, body: Readable): Promise<StemView[]> {
  const { productionId, strip, name, gain } = stem;
  const profile = await profileOfProduction(db, productionId);
  if (stripFamily(profile, strip)?.id !== 'in')
    throw new Fault(
      'refused-input',
      `${profile.name} has no input ${strip}.`,
      'Nothing was saved. Choose one of its inputs.',
      'strip',
    );
  const arriving = join(files.arriving, newId());
  try {
    const hash = await saveUpload(body, arriving);
    const { size } = await stat(arriving);
    const info = parseWavHeader(await firstBytes(arriving), size);
    const { rate, channels, depth, frames } = info;
    const highest = await peakOfFile(arriving, info);
    const silent = highest <= SILENT_STEM_PEAK;
    await rename(arriving, files.stem(hash));
    const row = {
      production_id: productionId,
      strip,
      name,
      hash,
      rate,
      channels,
      depth,
      frames,
      recorded_gain_db: gain,
      silent,
      peak_db: silent || !Number.isFinite(highest) ? null : factorToDb(highest),
      made_at: new Date(),
    };
    await db('stems').insert(row).onConflict(['production_id', 'strip']).merge();
  } finally {
    await rm(arriving, { force: true });
  }
  return stems(db, productionId);
}

/** Takes the stem off a strip; its file goes once no production uses it and it can no longer be given back. */
export async function detachStem(
  db: Database,
  files: FileStore,
  productionId: string,
  strip: string,
): Promise<Removal> {
  const before = await removedRowsOf(db, 'stems');
  const taken = await removeRow(db, 'stems', { production_id: productionId, strip });
  const kept = new Set((await removedRowsOf(db, 'stems')).map(({ hash }) => hash));
  for (const { hash } of before)
    if (typeof hash === 'string' && !kept.has(hash) && !(await db('stems').where({ hash }).first('hash')))
      await rm(files.stem(hash), { force: true });
  return taken;
}

/** Writes what arrives into a file; returns its SHA-256. */
async function saveUpload(body: Readable, file: string): Promise<string> {
  let size = 0;
  const limit = new Transform({
    transform(chunk: Buffer, _, done) {
      size += chunk.length;
      if (size > MAX_STEM_BYTES) done(stemTooLargeFault(size));
      else done(null, chunk);
    },
  });
  await pipeline(body, limit, createWriteStream(file));
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
}

/** A whole number of samples of every depth. */
const PIECE = 3 * 65_536;

/** The highest sample of a file, as a part of full scale. */
async function peakOfFile(file: string, { at, end, depth }: WavInfo): Promise<number> {
  let peak = 0;
  for await (const piece of createReadStream(file, { start: at, end: end - 1, highWaterMark: PIECE }))
    peak = Math.max(peak, peakOf(piece as Buffer, depth));
  return peak;
}

/** As much of a file as a WAV's description ever takes. */
const HEAD = 65_536;

async function firstBytes(file: string): Promise<Uint8Array> {
  const handle = await open(file);
  try {
    const { bytesRead, buffer } = await handle.read(Buffer.alloc(HEAD), 0, HEAD, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}
