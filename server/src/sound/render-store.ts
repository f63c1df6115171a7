import { Fault } from '@old-echo/core/fault/fault';
import type { RenderView } from '@old-echo/core/contracts/sound';
import type { RenderMeasurements } from '@old-echo/core/sound/analyse-render';

import type { Database } from '../database/connect';

interface RenderRow {
  readonly id: string;
  readonly status: RenderView['status'];
  readonly done: number;
  readonly total: number;
  readonly why: string;
  readonly cancel: 0 | 1;
  readonly measured: string | null;
  readonly beat_at: Date;
}

/** After this long without a sign of life nobody works on a render any more, in ms. */
const SILENT = 10_000;

/** @throws Fault `not-found` */
export async function renderView(db: Database, id: string): Promise<RenderView> {
  const row = await db<RenderRow>('renders').where({ id }).first();
  if (!row) throw new Fault('not-found', 'There is no such mix.', 'Start it again.');
  const dead = row.status === 'running' && Date.now() - row.beat_at.getTime() > SILENT;
  return {
    id,
    status: dead ? 'failed' : row.status,
    done: row.done,
    total: row.total,
    why: dead ? 'Old Echo stopped in the middle of it.' : row.why,
    measured: row.measured === null ? null : (JSON.parse(row.measured) as RenderMeasurements),
  };
}

/** Takes a render on, unless it is done or at work already. Returns whether it was taken. */
export async function claimRender(db: Database, id: string, again: boolean): Promise<boolean> {
  const known = (await db('renders').where({ id }).first('status')) as Pick<RenderRow, 'status'> | undefined;
  if (known?.status === 'done' && !again) return false;
  const fresh = { status: 'running', done: 0, total: 0, why: '', cancel: false, beat_at: new Date() } as const;
  await db('renders')
    .insert({ id, ...fresh, status: 'cancelled' })
    .onConflict('id')
    .ignore();
  const taken = await db('renders')
    .where({ id })
    .where((free) => {
      void free
        .whereIn('status', again ? ['failed', 'cancelled', 'done'] : ['failed', 'cancelled'])
        .orWhere((silent) => silent.where({ status: 'running' }).where('beat_at', '<', new Date(Date.now() - SILENT)));
    })
    .update(fresh);
  return taken > 0;
}

/** Notes how far it is; returns whether someone has asked to cancel it. */
export async function reportProgress(db: Database, id: string, done: number, total: number): Promise<boolean> {
  await db('renders').where({ id }).update({ done, total, beat_at: new Date() });
  const row = (await db('renders').where({ id }).first('cancel')) as { cancel: 0 | 1 } | undefined;
  return row?.cancel === 1;
}

export const finishRender = (
  db: Database,
  id: string,
  status: 'done' | 'failed' | 'cancelled',
  { why = '', measured }: { why?: string; measured?: RenderMeasurements },
): Promise<number> =>
  db('renders')
    .where({ id })
    .update({
      status,
      why: why.slice(0, 500),
      beat_at: new Date(),
      measured: measured ? JSON.stringify(measured) : null,
    });

export const askToCancel = (db: Database, id: string): Promise<number> =>
  db('renders').where({ id, status: 'running' }).update({ cancel: true });

/** Mixes nobody has asked for since, by id; their rows go. */
export async function deleteUnusedRenders(db: Database, before: Date): Promise<string[]> {
  const ids = (await db('renders').where('beat_at', '<', before).pluck('id')) as string[];
  await db('renders').whereIn('id', ids).delete();
  return ids;
}

/** Notes that a mix was asked for again, so that it is kept. */
export const touchRender = (db: Database, id: string): Promise<number> =>
  db('renders').where({ id, status: 'done' }).update({ beat_at: new Date() });
