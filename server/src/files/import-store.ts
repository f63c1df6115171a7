import { createWriteStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';

import { MAX_ARCHIVE_BYTES, type FileView, type ImportRequest } from '@old-echo/core/contracts/file-transfer';
import { Fault } from '@old-echo/core/fault/fault';
import type { Logger } from 'pino';
import { newId } from '../database/new-id';

import type { Database } from '../database/connect';
import { untilWritten } from '../database/until-written';
import type { LiveChannel } from '../live/live-channel';
import type { BackgroundTasks } from '../jobs/background-tasks';
import type { DeskConnections } from '../desk/desk-connections';
import type { FileStore } from '../database/file-store';
import { bringIn } from './import-file';
import { describeContents } from './file-contents';
import { openFile, invalidFile } from './open-file';

interface Row {
  readonly id: string;
  readonly name: string;
  readonly bytes: number;
  readonly status: FileView['status'];
  readonly done: number;
  readonly total: number;
  readonly why: string;
  readonly cancel: 0 | 1;
  readonly href: string | null;
  readonly made_at: Date;
}

/** How many files that were brought in are kept, the newest first. */
const KEPT = 10;

/** Takes a file in and looks inside. Nothing of one that cannot be read is kept. @throws Fault `refused-input` */
export async function receiveFile(db: Database, files: FileStore, name: string, body: Readable): Promise<FileView> {
  const id = newId();
  const path = files.inbox(id);
  try {
    let size = 0;
    const limit = new Transform({
      transform(piece: Buffer, _, done) {
        size += piece.length;
        if (size > MAX_ARCHIVE_BYTES) done(invalidFile(`The file has more than ${MAX_ARCHIVE_BYTES / 1e9} GB.`));
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
  await db('files').insert({ id, name: name.slice(0, 200), bytes: size, made_at: new Date() });
  const old = (await db('files').orderBy('id', 'desc').offset(KEPT).limit(100).pluck('id')) as string[];
  for (const gone of old) await rm(files.inbox(gone), { force: true });
  await db('files').whereIn('id', old).delete();
  return fileView(db, files, id);
}

/** Files that were brought in, the newest first, without what is inside. */
export const recentImports = async (
  db: Database,
): Promise<Pick<FileView, 'id' | 'name' | 'bytes' | 'status' | 'madeAt'>[]> =>
  (await db<Row>('files').orderBy('id', 'desc').limit(KEPT)).map(({ id, name, bytes, status, made_at }) => ({
    id,
    name,
    bytes,
    status,
    madeAt: made_at.toISOString(),
  }));

async function fileRow(db: Database, id: string): Promise<Row> {
  const row = await db<Row>('files').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This file is no longer here.', 'Open it again.');
  return row;
}

/** A file with what is inside. @throws Fault `not-found`, `refused-input` */
export async function fileView(db: Database, files: FileStore, id: string): Promise<FileView> {
  const row = await fileRow(db, id);
  const opened = await openFile(files.inbox(id));
  try {
    const inside = await describeContents(db, opened);
    return {
      ...inside,
      id,
      name: row.name,
      bytes: row.bytes,
      status: row.status,
      done: row.done,
      total: row.total,
      why: row.why,
      href: row.href,
      madeAt: row.made_at.toISOString(),
    };
  } finally {
    if (opened.format === 'archive') opened.archive.close();
  }
}

/** How far what was chosen of a file is. */
export async function fileProgress(
  db: Database,
  id: string,
): Promise<Pick<FileView, 'id' | 'status' | 'done' | 'total' | 'why' | 'href'>> {
  const { status, done, total, why, href } = await fileRow(db, id);
  return { id, status, done, total, why, href };
}

export const askToCancel = (db: Database, id: string): Promise<number> =>
  db('files').where({ id, status: 'bringing in' }).update({ cancel: true });

interface Tools {
  readonly db: Database;
  readonly files: FileStore;
  readonly sessions: DeskConnections;
  readonly live: LiveChannel;
  readonly atWork: BackgroundTasks;
  readonly log: Logger;
}

class Cancelled extends Error {}

/** Files that were being brought in when Old Echo stopped: nothing of them is here, and they can be tried again. */
export const failInterruptedImports = (db: Database): Promise<number> =>
  db('files')
    .where({ status: 'bringing in' })
    .update({ status: 'failed', why: 'Old Echo stopped in the middle of it. Nothing was brought in; try again.' });

/** Begins to bring in what was chosen of a file, and returns while that goes on. @throws Fault `not-found`, `conflict` */
export async function startImport(tools: Tools, id: string, request: ImportRequest): Promise<void> {
  const { db, files, atWork, log } = tools;
  await fileRow(db, id);
  const taken = await db('files')
    .where({ id })
    .whereNot({ status: 'bringing in' })
    .update({ status: 'bringing in', done: 0, total: 0, why: '', cancel: false, href: null });
  if (taken === 0) throw new Fault('conflict', 'This file is being brought in already.', 'Wait until it is done.');
  const beat = async (done: number, total: number) => {
    const { cancel } = await fileRow(db, id);
    if (cancel === 1) throw new Cancelled();
    await db('files').where({ id }).update({ done, total });
  };
  const work = async () => {
    const opened = await openFile(files.inbox(id));
    try {
      const { href, note } = await bringIn({ db, files, beat }, opened, request);
      await tools.sessions.connectNewDesks(db);
      await db('files').where({ id }).update({ status: 'done', href, why: note });
      tools.live.productionsChanged();
    } finally {
      if (opened.format === 'archive') opened.archive.close();
    }
  };
  atWork.add(
    work().catch(async (error: unknown) => {
      const cancelled = error instanceof Cancelled;
      if (!cancelled && !(error instanceof Fault)) log.error(error, 'a file could not be brought in');
      const why =
        error instanceof Fault ? `${error.message} ${error.advice}` : 'Something went wrong. Nothing was brought in.';
      await untilWritten(() =>
        db('files')
          .where({ id })
          .update({ status: cancelled ? 'cancelled' : 'failed', why: cancelled ? '' : why.slice(0, 1000) }),
      );
    }),
  );
}
