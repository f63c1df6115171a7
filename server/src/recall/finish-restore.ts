import type { RestoreReport, RestoreRequest, RestoreStatus, RestoreView } from '@old-echo/core/contracts/restore';
import { fingerprint } from '@old-echo/core/desk/fingerprint';
import { specOf } from '@old-echo/core/desk/profile';
import { sameValue } from '@old-echo/core/desk/setting';
import { type SettingsByAddress, valueAt } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { type Baseline, givenBack, restoredOver } from '@old-echo/core/scenes/baseline';

import type { Database } from '../database/connect';
import { toJson } from '../database/json-column';
import { untilWritten } from '../database/until-written';
import { baselineOf, setBaseline, sourceOf } from '../desk/baseline';
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
  readonly chosen: SettingsByAddress;
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
  { db, live, session }: RunnerTools,
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

/**
 * What the desk is meant to hold afterwards: what was chosen and confirmed, over what it was meant to hold before; after a
 * way back or a roll back, what it was meant to hold before the restore that they take back.
 */
async function baselineAfter(
  db: Database,
  session: DeskMirror,
  view: RestoreView,
  { status, report, chosen }: FinishedRestore,
  { recall }: RestoreRequest,
): Promise<Baseline | undefined> {
  if (status === 'rolled back') return undefined;
  const before = await baselineOf(db, session.deskId);
  const failed = new Set(report.unconfirmed.map(({ address }) => address));
  const confirmed = (settings: SettingsByAddress): SettingsByAddress =>
    Object.fromEntries(Object.entries(settings).filter(([address]) => !failed.has(address)));
  const { resume, sceneId } = recall;
  const undone =
    resume?.how === 'roll back' ? resume.restoreId : sceneId && (await restoreBefore(db, session.deskId, sceneId));
  const replaced = undone ? await replacedByRestore(db, undone) : undefined;
  if (replaced && before) return givenBack(before, replaced, confirmed(chosen));
  const source = sourceOf({ id: view.sceneId, number: view.sceneNumber, name: view.sceneName });
  if (resume?.how !== 'finish') {
    if (recall.baseline) return undefined;
    return restoredOver(before, source, confirmed(chosen));
  }
  // What stood already when the first of them began counts as well: it is looked for on the desk.
  let first = await restoreView(db, resume.restoreId);
  while (first.recall.resume) first = await restoreView(db, first.recall.resume.restoreId);
  if (first.recall.baseline) return undefined;
  const { chosen: all } = await planRecall(db, session, first.recall).catch(() => ({ chosen }));
  const stands = Object.entries(all).filter(([address, value]) => {
    const spec = specOf(session.profile, address);
    return spec && sameValue(spec, value, valueAt(session.state, address));
  });
  return restoredOver(before, source, confirmed(Object.fromEntries(stands)));
}
