import type { RestoreReport, RestoreRequest, RestoreStatus, RestoreView } from '@old-echo/core/contracts/restore';
import { fingerprint } from '@old-echo/core/desk/fingerprint';
import type { State } from '@old-echo/core/desk/state';
import { baselineAfterRestore } from '@old-echo/core/recall/baseline-after-restore';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import type { Baseline } from '@old-echo/core/scenes/baseline';

import type { Database } from '../database/connect';
import { toJson } from '../database/json-column';
import { untilWritten } from '../database/until-written';
import { setBaseline, sourceOf, undamagedBaseline } from '../desk/baseline';
import type { DeskMirror } from '../desk/desk-mirror';
import { releaseLease } from '../desk/desk-store';
import { planRecall } from './plan-recall';
import { recordOutcome, replacedByRestore, restoreBefore, restoreView } from './restore-store';
import type { RunnerTools } from './restore-tools';
import { recordPresetOrigins } from './staged-settings-store';

/** What became of a restore. */
export interface Outcome {
  readonly status: RestoreStatus;
  readonly report: RestoreReport;
}

interface FinishedRestore extends Outcome {
  /** All that was chosen, as it was to stand. */
  readonly chosen: State;
  /** The scene that leads to where the desk was before. */
  readonly swapTo: string;
  /** Where the way back was kept. */
  readonly production: string;
}

/**
 * Writes what became of a restore, tells the pages, and lets go of the desk. Tried again for a while where the database
 * does not answer.
 */
export async function finishRestore(
  { db, live, session }: Pick<RunnerTools, 'db' | 'live' | 'session'>,
  view: RestoreView,
  request: RestoreRequest,
  end: FinishedRestore,
): Promise<void> {
  const write = async () => {
    const baseline = await baselineAfter(db, session, view, end, request);
    // At once, so that whoever sees that it has ended can begin the next, and nobody sees it without its desk.
    await db.transaction(async (tx) => {
      await recordOutcome(tx, view.id, end.status, end.report);
      if (baseline) await setBaseline(tx, session.deskId, baseline);
      // A part that came back leaves the two that are swapped between as they are, where there are two.
      const pair = tx('desks').where({ id: session.deskId });
      if (!isWholeRecall(request)) void pair.whereNull('swap_scene_id');
      if (end.status === 'confirmed' && request.recall.sceneId)
        await pair.update({ swap_scene_id: end.swapTo, swap_scope: toJson(request.recall.scope) });
      if (end.status === 'confirmed' && request.recall.stagedSettingsId)
        await recordPresetOrigins(tx, session.deskId, request.recall.stagedSettingsId);
      await releaseLease(tx, session.deskId, view.id);
    });
  };
  await untilWritten(write);
  live.restoreChanged(await restoreView(db, view.id));
  await live.deskChanged(session.deskId);
  await live.scenesChanged(end.production);
}

/** Whether a recall brings back all of a scene, each strip to where it was. */
const isWholeRecall = ({ recall }: RestoreRequest): boolean =>
  recall.onto.length === 0 &&
  recall.relativeTo === null &&
  fingerprint(recall.scope) === fingerprint(ALL_EXCEPT_GLOBALS);

/** What the desk is meant to hold afterwards; undefined where that stays as it is. */
async function baselineAfter(
  db: Database,
  session: DeskMirror,
  view: RestoreView,
  { status, report, chosen }: FinishedRestore,
  { recall }: RestoreRequest,
): Promise<Baseline | undefined> {
  if (status === 'rolled back') return undefined;
  const { resume, sceneId } = recall;
  const undone =
    resume?.how === 'roll back' ? resume.restoreId : sceneId && (await restoreBefore(db, session.deskId, sceneId));
  const first = resume?.how === 'finish' ? await firstOf(db, resume.restoreId) : undefined;
  const finishes = first && (await planRecall(db, session, first).catch(() => ({ chosen }))).chosen;
  return baselineAfterRestore(session.profile, session.state, await undamagedBaseline(db, session.deskId), {
    chosen,
    unconfirmed: report.unconfirmed.map(({ address }) => address),
    source: sourceOf({ id: view.sceneId, number: view.sceneNumber, name: view.sceneName }),
    toBaseline: (first ?? recall).baseline === true,
    takesBack: undone ? await replacedByRestore(db, undone) : undefined,
    finishes,
  });
}

/** The recall that the first of several restores was for, each of which finished the one before. */
async function firstOf(db: Database, restoreId: string): Promise<RestoreRequest['recall']> {
  const { recall } = await restoreView(db, restoreId);
  return recall.resume ? firstOf(db, recall.resume.restoreId) : recall;
}
