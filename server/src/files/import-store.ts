import { createWriteStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';

import { NOWHERE } from '@old-echo/core/contracts/desk';
import {
  type ImportProgress,
  type ImportRequest,
  type ImportView,
  MAX_ARCHIVE_BYTES,
  type RecentImport,
} from '@old-echo/core/contracts/file-transfer';
import { isManualDesk } from '@old-echo/core/desk/manual';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import type { FileStore } from '../database/file-store';
import { newId } from '../database/new-id';
import type { DeskRow, ImportRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { untilWritten } from '../database/until-written';
import { readStoredProfile } from '../desk/profile-store';
import type { ServerContext } from '../desk/server-context';
import { claimJob, jobStatuses, jobWithResult } from '../jobs/job-store';
import { runJob } from '../jobs/run-job';
import { beginProduction, dropMaking, showMade } from '../scenes/making-production';
import { invalidFile } from './document';
import { describeContents } from './file-contents';
import type { ImportResult, MakingTools } from './import-context';
import { importFile } from './import-file';
import { openFile } from './open-file';

/** How many files that were opened are kept, the newest first. */
const KEPT = 10;

/** Takes a file in and looks inside. Nothing of one that cannot be read is kept. @throws Fault `refused-input` */
export async function receiveFile(db: Database, files: FileStore, name: string, body: Readable): Promise<ImportView> {
  const id = newId();
  const path = files.inbox(id);
  try {
    let size = 0;
    const limit = new Transform({
      transform(piece: Buffer, _, done) {
        size += piece.length;
        if (size > MAX_ARCHIVE_BYTES)
          done(invalidFile(`The file is larger than ${MAX_ARCHIVE_BYTES / 1e9} GB, the limit.`));
        else done(null, piece);
      },
    });
    await pipeline(body, limit, createWriteStream(path));
    const opened = await openFile(path);
    if (opened.format === 'archive') opened.archive.close();
  } catch (error) {
    await rm(path, { force: true });
    throw error;
  }
  const { size } = await stat(path);
  await db('imports').insert({ id, name: name.slice(0, 200), bytes: size, made_at: new Date() });
  const old = await db('imports').orderBy('id', 'desc').offset(KEPT).limit(100).pluck('id');
  for (const gone of old) await rm(files.inbox(gone), { force: true });
  await db('imports').whereIn('id', old).delete();
  return importView(db, files, id);
}

/** Files that were opened, the newest first, without what is inside. */
export async function recentImports(db: Database): Promise<RecentImport[]> {
  const rows = await db('imports').orderBy('id', 'desc').limit(KEPT);
  const statuses = await jobStatuses(
    db,
    rows.map(({ id }) => id),
  );
  return rows.map(({ id, name, bytes, made_at }) => ({
    id,
    name,
    bytes,
    status: statuses.get(id) ?? null,
    madeAt: made_at.toISOString(),
  }));
}

async function importRow(db: Database, id: string): Promise<ImportRow> {
  const row = await db('imports').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This file is no longer here.', 'Open it again.');
  return row;
}

/** A file with what is inside. @throws Fault `not-found`, `refused-input` */
export async function importView(db: Database, files: FileStore, id: string): Promise<ImportView> {
  const { name, bytes, made_at } = await importRow(db, id);
  const opened = await openFile(files.inbox(id));
  try {
    const inside = await describeContents(db, opened);
    return { ...inside, ...(await importProgress(db, id)), name, bytes, madeAt: made_at.toISOString() };
  } finally {
    if (opened.format === 'archive') opened.archive.close();
  }
}

const STOPPED = 'Old Echo stopped during the import. Nothing was imported; try again.';

/** How far what was chosen of a file is. @throws Fault `not-found` */
export async function importProgress(db: Database, id: string): Promise<ImportProgress> {
  const [job, { result_path }] = await jobWithResult(
    db,
    id,
    STOPPED,
    () => importRow(db, id),
    (row) => row.result_path !== null,
  );
  return { id, job: job ?? null, resultPath: result_path, toConnect: await deskToConnect(db, result_path) };
}

/** The desk of a song or show that came in, where it is wired and has no address. */
async function deskToConnect(db: Database, resultPath: string | null): Promise<ImportProgress['toConnect']> {
  const production = /^\/mixes\/(\w+)/.exec(resultPath ?? '')?.[1];
  if (production === undefined) return null;
  const desk = await db('desks')
    .join('productions', 'productions.desk_id', 'desks.id')
    .where('productions.id', production)
    .where('port', NOWHERE.port)
    .whereNull('removed_at')
    .first<Pick<DeskRow, 'id' | 'name' | 'profile_id'> | undefined>('desks.id', 'desks.name', 'profile_id');
  if (!desk || isManualDesk(await readStoredProfile(db, desk.profile_id))) return null;
  return { id: desk.id, name: desk.name };
}

/** Imports in one transaction, whole or not at all. A song or show is begun outside of it, so that its desk is not held. */
async function importWhole(
  db: Database,
  id: string,
  work: (tx: Database, making: MakingTools) => Promise<ImportResult>,
): Promise<string> {
  try {
    return await inTransaction(db, async (tx) => {
      // What an attempt before this one had begun.
      await dropMaking(db, id);
      const making: MakingTools = {
        begin: (production) => beginProduction(db, id, production),
        show: (production) => showMade(tx, id, production),
      };
      const { resultPath, note } = await work(tx, making);
      await tx('imports').where({ id }).update({ result_path: resultPath });
      return note;
    });
  } catch (error) {
    await untilWritten(() => dropMaking(db, id));
    throw error;
  }
}

/** Begins to import what was chosen of a file, and returns while that goes on. @throws Fault `not-found`, `conflict` */
export async function startImport(context: ServerContext, id: string, request: ImportRequest): Promise<void> {
  const { db, files, desks, live } = context;
  await importRow(db, id);
  if (!(await claimJob(db, id, 0)))
    throw new Fault('conflict', 'This file is already being imported.', 'Wait until it is done.');
  await db('imports').where({ id }).update({ result_path: null });
  runJob(context, id, 'Something went wrong. Nothing was imported.', async (report) => {
    const opened = await openFile(files.inbox(id));
    try {
      const note = await importWhole(db, id, (tx, making) =>
        importFile({ tx, making, files, report }, opened, request),
      );
      await desks.connectNewDesks(db);
      live.productionsChanged();
      return note;
    } finally {
      if (opened.format === 'archive') opened.archive.close();
    }
  });
}
