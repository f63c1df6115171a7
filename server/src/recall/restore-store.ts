import {
  type AnsweredCaution,
  type CancelAction,
  type RestorePage,
  type RestoreProgress,
  type RestoreReport,
  type RestoreRequest,
  restoreRequestShape,
  type RestoreStatus,
  type RestoreView,
} from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import type { Journal } from '@old-echo/core/recall/recall-target';
import { type Scope, scopeShape } from '@old-echo/core/recall/scope-rules';
import type { WalkMarks } from '@old-echo/core/recall/walk';
import type { Replaced } from '@old-echo/core/scenes/baseline';

import type { Database } from '../database/connect';
import { fromJson, toJson } from '../database/json-column';
import type { RestoreRow } from '../database/tables';

interface NewRestore {
  readonly id: string;
  readonly deskId: string;
  readonly scene: Pick<SceneView, 'name' | 'number'> & { readonly id: string | null };
  readonly request: RestoreRequest;
  readonly answered: readonly AnsweredCaution[];
  readonly wayBackId: string;
  readonly wayBackScope: Scope;
  readonly journal: Journal;
  /** The part of the desk's baseline that it replaces. */
  readonly replaces: Replaced;
}

/** Writes the journal. Nothing may be sent before this has returned. */
export async function insertRestore(db: Database, restore: NewRestore): Promise<void> {
  await db('restores').insert({
    id: restore.id,
    desk_id: restore.deskId,
    scene_id: restore.scene.id,
    scene_name: restore.scene.name,
    scene_number: restore.scene.number,
    way_back_id: restore.wayBackId,
    request: toJson(restore.request),
    answered_cautions: toJson(restore.answered),
    resumes_restore_id: restore.request.recall.resume?.restoreId ?? null,
    way_back_scope: toJson(restore.wayBackScope),
    journal: toJson(restore.journal),
    changes: restore.journal.changes.length,
    status: 'running',
    baseline_before: toJson(restore.replaces),
    started_at: new Date(),
  });
}

export async function recordOutcome(
  db: Database,
  id: string,
  status: RestoreStatus,
  report: RestoreReport,
): Promise<void> {
  await db('restores')
    .where({ id })
    .update({ status, report: toJson(report), ended_at: new Date() });
}

/** @throws Fault `not-found` */
export async function restoreRow(db: Database, id: string): Promise<RestoreRow> {
  const row = await db('restores').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This restore no longer exists.', 'Go back to the desk.');
  return row;
}

/** @throws Fault `not-found` */
export const restoreView = async (
  db: Database,
  id: string,
  progress: RestoreProgress | null = null,
): Promise<RestoreView> => viewOf(await restoreRow(db, id), progress);

function viewOf(row: RestoreRow, progress: RestoreProgress | null = null): RestoreView {
  const request = requestOf(row);
  return {
    id: row.id,
    deskId: row.desk_id,
    sceneId: row.scene_id,
    sceneName: row.scene_name,
    sceneNumber: row.scene_number,
    status: row.status,
    recall: request.recall,
    fade: request.fade,
    curve: request.curve,
    by: request.by,
    answered: fromJson(row.answered_cautions),
    changes: row.changes,
    wayBack:
      row.way_back_id === null
        ? null
        : { sceneId: row.way_back_id, scope: parseShape(scopeShape, fromJson(row.way_back_scope)) },
    progress,
    marks: row.status === 'walk' ? marksOf(row) : null,
    report: row.report === null ? null : fromJson(row.report),
    startedAt: row.started_at.toISOString(),
    endedAt: row.ended_at?.toISOString() ?? null,
  };
}

/** What was asked for. Journals of earlier days named the desk in their row alone. */
export function requestOf(row: RestoreRow): RestoreRequest {
  const asked = fromJson(row.request);
  return parseShape(restoreRequestShape, { ...asked, recall: { deskId: row.desk_id, ...asked.recall } });
}

export const marksOf = ({ walk_marks }: Pick<RestoreRow, 'walk_marks'>): WalkMarks =>
  walk_marks === null ? {} : fromJson(walk_marks);

/** Restores on one page of the log. */
const PAGE_SIZE = 50;

/** The log of a desk, the newest first; or of those that began before a moment. */
export async function restoreLog(db: Database, deskId: string, before?: Date): Promise<RestorePage> {
  const rows = await db('restores')
    .where({ desk_id: deskId })
    .where((q) => before && q.where('started_at', '<', before))
    .orderBy('started_at', 'desc')
    .orderBy('id', 'desc')
    .limit(PAGE_SIZE);
  const last = rows.length === PAGE_SIZE ? rows.at(-1) : undefined;
  return { restores: rows.map((row) => viewOf(row)), before: last?.started_at.toISOString() ?? null };
}

/** What a restore was going to do, as it stands in its journal. @throws Fault `not-found` */
export async function loadJournal(db: Database, id: string): Promise<Journal> {
  const row = await db('restores').where({ id }).first('journal');
  if (!row) throw new Fault('not-found', 'This restore no longer exists.', 'Go back to the desk.');
  return fromJson(row.journal);
}

/** What a restore has replaced of its desk's baseline; undefined for those of earlier days. */
export async function replacedByRestore(db: Database, id: string): Promise<Replaced | undefined> {
  const row = await db('restores').where({ id }).first('baseline_before');
  return row?.baseline_before ? fromJson(row.baseline_before) : undefined;
}

/** The restore of a desk whose way back a scene is, or undefined. */
export const restoreBefore = async (db: Database, deskId: string, sceneId: string): Promise<string | undefined> =>
  (await db('restores').where({ desk_id: deskId, way_back_id: sceneId }).first('id'))?.id;

/** Asks a restore that is at work to stop, or to roll back. @throws Fault `not-found`, `conflict` once it has ended */
export async function askToCancel(db: Database, id: string, how: CancelAction): Promise<void> {
  const asked = await db('restores').where({ id, status: 'running' }).update({ cancel: how });
  if (asked > 0) return;
  const { status } = await restoreRow(db, id);
  // Asking twice for the same changes nothing.
  if (status !== 'running')
    throw new Fault(
      'conflict',
      'This restore has already ended.',
      'Look at its report; the way back leads to before it.',
    );
}

export async function requestedCancel(db: Database, id: string): Promise<CancelAction | null> {
  const row = await db('restores').where({ id }).first('cancel');
  return row?.cancel ?? null;
}

/**
 * Restores whose server stopped in the middle: they run in the journal but nobody holds their desk any more.
 * Marked as interrupted, so that the desk's page says so and offers to finish or to roll back.
 */
export async function markInterrupted(db: Database): Promise<void> {
  // Looked for without locks first: nearly always there is none, and a restore that is just ending must not wait for this.
  const left = await db('restores')
    .where({ status: 'running' })
    .whereNotExists((held) =>
      held
        .select(db.raw('1'))
        .from('desks')
        .whereRaw('desks.lease_holder_id = restores.id AND desks.lease_until > UTC_TIMESTAMP(3)'),
    )
    .select('id');
  for (const { id } of left)
    await db('restores').where({ id, status: 'running' }).update({ status: 'interrupted', ended_at: new Date() });
}
