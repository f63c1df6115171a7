import type { Recall } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { State } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import type { Preview } from '@old-echo/core/recall/planned-changes';
import { chosenSettings, preview } from '@old-echo/core/recall/preview';
import {
  askedBy,
  choosable,
  hasGainFromOtherSource,
  type RecallInputs,
  recallTarget,
} from '@old-echo/core/recall/recall-target';

import type { Database } from '../database/connect';
import type { DeskRow } from '../database/tables';
import { baselineOf, baselineView } from '../desk/baseline';
import type { DeskMirror } from '../desk/desk-mirror';
import { deskRow, safesOf, thresholdsOf } from '../desk/desk-store';
import { assertBelongsToDesk } from '../desk/same-profile';
import { loadState } from '../desk/scene-states';
import { sceneView } from '../scenes/scene-store';
import { loadJournal, restoreView } from './restore-store';
import { stagedSettings } from './staged-settings-store';

export interface RecallPlan {
  readonly preview: Preview;
  /** All that was chosen, as it will stand. */
  readonly chosen: State;
  /** What comes back, by name: its id is null once that scene was removed for good. */
  readonly scene: Pick<SceneView, 'name' | 'number'> & {
    readonly id: string | null;
    readonly kind?: SceneView['kind'];
  };
}

/** What a recall would do to the desk as it is at this moment. @throws Fault `link-lost`, `not-found`, `refused-input` */
export async function planRecall(
  db: Database,
  session: DeskMirror,
  recall: Recall,
  row?: DeskRow,
): Promise<RecallPlan> {
  session.assertLinked();
  if (recall.deskId !== session.deskId)
    throw new Fault(
      'refused-input',
      'This was meant for another desk.',
      'Nothing was sent. Go to the desk it was prepared for.',
      'deskId',
    );
  const [desk, { scene, sources }] = await Promise.all([
    row ?? deskRow(db, session.deskId),
    loadInputs(db, session, recall),
  ]);
  const named = [recall.sceneId, recall.relativeTo].flatMap((id) => id ?? []);
  if (named.length > 0) await assertBelongsToDesk(db, desk, named, 'sceneId');
  const { profile, state: now } = session;
  const target = recallTarget(profile, now, recall, sources) ?? {};
  const among = choosable(recall, now, target, sources);
  const what = { profile, now, target, among, scope: recall.scope, safes: safesOf(desk) };
  return {
    scene,
    chosen: chosenSettings(what),
    preview: preview({
      ...what,
      mode: desk.mode,
      thresholds: thresholdsOf(desk),
      muteFirst: recall.muteFirst,
      elsewhere: hasGainFromOtherSource(recall, sources),
      scene: sources.scene ?? target,
      asked: askedBy(recall, target, sources),
    }),
  };
}

async function loadInputs(
  db: Database,
  session: DeskMirror,
  { sceneId = '', stagedSettingsId, resume, baseline, relativeTo }: Recall,
): Promise<{ scene: RecallPlan['scene']; sources: RecallInputs }> {
  if (resume) {
    const {
      deskId,
      status,
      sceneId: id,
      sceneName: name,
      sceneNumber: number,
    } = await restoreView(db, resume.restoreId);
    if (deskId !== session.deskId || status === 'running' || status === 'walk')
      throw new Fault('refused-input', 'That restore cannot be continued.', 'Go back to the desk.', 'resume');
    return { scene: { id, name, number }, sources: { journal: await loadJournal(db, resume.restoreId) } };
  }
  if (stagedSettingsId) {
    const put = await stagedSettings(db, stagedSettingsId);
    if (put.deskId !== session.deskId)
      throw new Fault('refused-input', 'That was prepared for another desk.', 'Go to that desk.', 'stagedSettingsId');
    return { scene: { id: null, name: put.title, number: 0 }, sources: { stagedSettings: put } };
  }
  if (baseline) {
    const held = await baselineOf(db, session.deskId);
    const line = (await baselineView(db, await deskRow(db, session.deskId)))?.line;
    if (!held || line === undefined)
      throw new Fault(
        'refused-input',
        'Nothing was captured on this desk yet.',
        'Capture a scene first; what moves after it can be put back.',
        'baseline',
      );
    return { scene: { id: null, name: line, number: 0 }, sources: { baseline: held.state } };
  }
  const [view, scene, base] = await Promise.all([
    sceneView(db, sceneId),
    loadState(db, sceneId),
    relativeTo === null ? undefined : sceneView(db, relativeTo).then(({ id }) => loadState(db, id)),
  ]);
  return { scene: view, sources: { scene, base } };
}
