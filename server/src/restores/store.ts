import { Fault } from '@old-echo/core/contracts/fault';
import { readShape } from '@old-echo/core/contracts/read';
import type { RestoreProgress, RestoreReport, RestoreStatus, RestoreView } from '@old-echo/core/contracts/restore';
import { scopeShape, type Scope } from '@old-echo/core/scope/rules';
import type { PlannedChange, Preview } from '@old-echo/core/preview/preview';

import type { Database } from '../database/connect';
import { fromJson } from '../database/json';

interface RestoreRow {
  readonly id: string;
  readonly desk_id: string;
  readonly scene_id: string;
  readonly way_back_id: string;
  readonly scope: unknown;
  readonly way_back_scope: unknown;
  readonly changes: number;
  readonly status: RestoreStatus;
  readonly report: string | null;
  readonly started_at: Date;
  readonly scene_name: string;
  readonly scene_number: number;
}

export interface NewRestore {
  readonly id: string;
  readonly deskId: string;
  readonly sceneId: string;
  readonly wayBackId: string;
  readonly scope: Scope;
  readonly wayBackScope: Scope;
  readonly plan: Preview;
}

/** Writes the journal. Nothing may be sent before this has returned. */
export async function insertRestore(db: Database, restore: NewRestore): Promise<void> {
  await db('restores').insert({
    id: restore.id,
    desk_id: restore.deskId,
    scene_id: restore.sceneId,
    way_back_id: restore.wayBackId,
    scope: JSON.stringify(restore.scope),
    way_back_scope: JSON.stringify(restore.wayBackScope),
    journal: JSON.stringify({ changes: restore.plan.changes, guarded: restore.plan.guarded }),
    changes: restore.plan.changes.length,
    status: 'running',
    started_at: new Date(),
  });
}

export async function endRestore(
  db: Database,
  id: string,
  status: RestoreStatus,
  report: RestoreReport,
): Promise<void> {
  await db('restores')
    .where({ id })
    .update({ status, report: JSON.stringify(report), ended_at: new Date() });
}

/** @throws Fault `not-found` */
export async function restoreView(
  db: Database,
  id: string,
  progress: RestoreProgress | null = null,
): Promise<RestoreView> {
  const row = (await db('restores')
    .join('scenes', 'scenes.id', 'restores.scene_id')
    .where('restores.id', id)
    .first('restores.*', { scene_name: 'scenes.name', scene_number: 'scenes.number' })) as RestoreRow | undefined;
  if (!row) throw new Fault('not-found', 'There is no such restore.', 'Go back to the desk.');
  return {
    id: row.id,
    deskId: row.desk_id,
    sceneId: row.scene_id,
    sceneName: row.scene_name,
    sceneNumber: row.scene_number,
    status: row.status,
    scope: readShape(scopeShape, fromJson(row.scope)),
    changes: row.changes,
    wayBack: { sceneId: row.way_back_id, scope: readShape(scopeShape, fromJson(row.way_back_scope)) },
    progress,
    report: row.report === null ? null : (JSON.parse(row.report) as RestoreReport),
    startedAt: row.started_at.toISOString(),
  };
}

/** What a restore was going to change, in order, as it stands in its journal. @throws Fault `not-found` */
export async function journalChanges(db: Database, id: string): Promise<readonly PlannedChange[]> {
  const row = (await db('restores').where({ id }).first('journal')) as { journal: string } | undefined;
  if (!row) throw new Fault('not-found', 'There is no such restore.', 'Go back to the desk.');
  return (JSON.parse(row.journal) as { changes: PlannedChange[] }).changes;
}

/**
 * Restores whose server stopped in the middle: they run in the journal but nobody holds their desk any more.
 * Marked as interrupted, so that the desk's page says so and offers the way back.
 */
export async function markInterrupted(db: Database): Promise<void> {
  // Looked for without locks first: nearly always there is none, and a restore that is just ending must not wait for this.
  const left = (await db('restores')
    .where({ status: 'running' })
    .whereNotExists((held) =>
      held
        .select(db.raw('1'))
        .from('desks')
        .whereRaw('desks.lease_by = restores.id AND desks.lease_until > UTC_TIMESTAMP(3)'),
    )
    .select('id')) as { id: string }[];
  for (const { id } of left)
    await db('restores').where({ id, status: 'running' }).update({ status: 'interrupted', ended_at: new Date() });
}
