import type { RestoreReport, RestoreRequest, RestoreStatus, RestoreView } from '@old-echo/core/contracts/restore';
import { fingerprint } from '@old-echo/core/scene/fingerprint';
import { EVERYTHING } from '@old-echo/core/scope/rules';

import type { Database } from '../database/connect';
import { untilWritten } from '../database/until-written';
import { endLease, standOn, type DeskRow } from '../desks/store';
import { noteOrigins } from '../placements/store';
import { endRestore, restoreView } from '../restores/store';
import { sceneView } from '../scenes/store';
import type { RunnerTools } from './tools';

/** What became of a restore. */
export interface Outcome {
  readonly status: RestoreStatus;
  readonly report: RestoreReport;
}

interface End extends Outcome {
  readonly desk: DeskRow;
  /** The scene that leads to where the desk was before. */
  readonly whence: string;
  /** Where the way back was kept. */
  readonly production: string;
}

/**
 * Writes what became of a restore, tells the pages, and lets go of the desk. Tried again for a while where the database
 * does not answer.
 */
export async function endRun(
  { db, live, session }: RunnerTools,
  view: RestoreView,
  request: RestoreRequest,
  end: End,
): Promise<void> {
  const write = async () => {
    const standing = await standsAfter(db, end, request);
    // At once, so that whoever sees that it has ended can begin the next, and nobody sees it without its desk.
    await db.transaction(async (tx) => {
      await endRestore(tx, view.id, end.status, end.report);
      await standOn(tx, session.deskId, standing);
      if (end.status === 'confirmed' && request.recall.sceneId)
        await tx('desks')
          .where({ id: session.deskId })
          .update({ flip_scene_id: end.whence, flip_scope: JSON.stringify(request.recall.scope) });
      if (end.status === 'confirmed' && request.recall.placementId)
        await noteOrigins(tx, session.deskId, request.recall.placementId);
      await endLease(tx, session.deskId, view.id);
    });
  };
  await untilWritten(write);
  live.restoreChanged(await restoreView(db, view.id));
  await live.deskChanged(session.deskId);
  await live.scenesChanged(end.production);
}

/**
 * Which scene stands on the desk afterwards: the restored one when all of it came back; after a way back the scene
 * that stood there before; else the one that stood there already, with what came back as drift.
 */
async function standsAfter(
  db: Database,
  { desk, status, report }: End,
  { recall }: RestoreRequest,
): Promise<string | null> {
  const before = desk.scene_id;
  if (!recall.sceneId || status === 'rolled back') return before;
  const scene = await sceneView(db, recall.sceneId);
  if (scene.kind === 'way back') return scene.parents[0] ?? before;
  const whole =
    recall.onto.length === 0 && recall.relativeTo === null && fingerprint(recall.scope) === fingerprint(EVERYTHING);
  return before === null || (whole && report.unconfirmed.length === 0) ? scene.id : before;
}
