import { createWriteStream, existsSync } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';

import type { Removal } from '@old-echo/core/contracts/removal';
import { MAX_STEM_BYTES, stemTooLargeFault, type StemView } from '@old-echo/core/contracts/sound';
import { stripFamily } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';
import { factorToDb } from '@old-echo/core/signal/sound';
import { SILENT_STEM_PEAK } from '@old-echo/core/signal/wav-samples';
import { stemStarts } from '@old-echo/core/sound/stem-starts';

import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { newId } from '../database/new-id';
import type { StemRow } from '../database/tables';
import { removedRowsOf, removeRow } from '../removed/removed-store';
import { profileOfProduction } from '../scenes/production-store';
import { isFlac } from './unpack-flac';
import type { WorkerPool } from './worker-pool';

export const stemRows = (db: Database, productionId: string): Promise<StemRow[]> =>
  db('stems').where({ production_id: productionId });

/** The stems of a production, in the order of their strips' names. */
export async function stems(db: Database, files: FileStore, productionId: string): Promise<StemView[]> {
  const rows = await stemRows(db, productionId);
  const starts = startsOf(rows);
  return rows.map(
    ({ strip, name, hash, rate, channels, depth, frames, silent, peak_db, came_bytes, came_modified }, n) => ({
      strip,
      name,
      hash,
      rate,
      channels,
      depth,
      seconds: frames / rate,
      start: starts[n] ?? 0,
      cameFrom: came_bytes === null || came_modified === null ? null : { bytes: came_bytes, modified: came_modified },
      missing: !existsSync(files.stem(hash)),
      silent: silent === 1,
      peak: peak_db,
    }),
  );
}

/** Where each stem of a production begins, in seconds. */
export const startsOf = (rows: readonly StemRow[]): readonly number[] =>
  stemStarts(rows.map(({ time_reference, rate }) => ({ timeReference: time_reference, rate })));

/** A stem whose file is kept; the gain of its preamp when it was recorded, and its peak, in dB. */
type KeptStem = Pick<StemRow, 'strip' | 'name' | 'hash' | 'rate' | 'channels' | 'depth' | 'frames'> & {
  readonly gain: number;
  readonly peak: number | null;
  readonly timeReference: number | null;
};

/** Enters stems whose files are kept already, on strips that have none. */
export async function addStems(tx: Database, productionId: string, stems: readonly KeptStem[]): Promise<void> {
  const rows = stems.map(({ gain, peak, timeReference, ...stem }) => ({
    ...stem,
    time_reference: timeReference,
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
  /** When its file was changed last, in ms since 1970; null where nobody knows. */
  readonly modified: number | null;
  /** What the strip's gain and pad are now, in dB. */
  readonly gain: number;
  /** Whether somebody still waits for it: what was broken off is not to take the place of what was chosen since. */
  readonly isAwaited: () => boolean;
}

/**
 * Attaches a WAV or FLAC file to a strip, in the place of one it may have had. Nothing is kept of a file that cannot be read, is too
 * large or breaks off.
 * @throws Fault `refused-input` with a sentence, `not-found`, `try-later` where nobody waits for it any more
 */
export async function attachStem(
  { db, files, pool }: { readonly db: Database; readonly files: FileStore; readonly pool: WorkerPool },
  stem: NewStem,
  body: Readable,
): Promise<StemView[]> {
  const { productionId, strip, name, modified, gain, isAwaited } = stem;
  const profile = await profileOfProduction(db, productionId);
  if (stripFamily(profile, strip)?.id !== 'in')
    throw new Fault(
      'refused-input',
      `${profile.name} has no input ${strip}.`,
      'Nothing was saved. Choose one of its inputs.',
      'strip',
    );
  const [arrived, unpacked] = [join(files.arriving, newId()), join(files.arriving, newId())];
  try {
    await saveUpload(body, arrived);
    const came = await stat(arrived);
    // Kept is a WAV file, of which a mix is read from anywhere.
    const wav = isFlac(arrived) ? unpacked : arrived;
    if (wav === unpacked) await pool.run({ do: 'unpack flac', from: arrived, to: unpacked });
    const { survey } = await pool.run({ do: 'survey', file: wav });
    if (!survey) throw new Error('a stem was not looked through');
    const { hash, info, peak } = survey;
    const { rate, channels, depth, frames, timeReference } = info;
    const silent = peak <= SILENT_STEM_PEAK;
    if (!isAwaited()) throw new Fault('try-later', 'Nobody waits for this file any more.', 'Nothing was saved.');
    await rename(wav, files.stem(hash));
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
      peak_db: silent || !Number.isFinite(peak) ? null : factorToDb(peak),
      time_reference: timeReference,
      came_bytes: came.size,
      came_modified: modified,
      made_at: new Date(),
    };
    await db('stems').insert(row).onConflict(['production_id', 'strip']).merge();
  } finally {
    for (const left of [arrived, unpacked]) await rm(left, { force: true });
  }
  return stems(db, files, productionId);
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

/** What arrives is written in pieces of up to so many bytes: many small ones take twice as long. */
const WRITTEN_AT_ONCE = 2 ** 20;

/** Writes what arrives into a file. @throws Fault `refused-input` for what is too large */
async function saveUpload(body: Readable, file: string): Promise<void> {
  let size = 0;
  const limit = new Transform({
    transform(chunk: Buffer, _, done) {
      size += chunk.length;
      if (size > MAX_STEM_BYTES) done(stemTooLargeFault(size));
      else done(null, chunk);
    },
  });
  await pipeline(body, limit, createWriteStream(file, { highWaterMark: WRITTEN_AT_ONCE }));
}
