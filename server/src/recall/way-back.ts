import type { Recall } from '@old-echo/core/contracts/restore';
import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { readAddress } from '@old-echo/core/desk/address';
import { laneOfProcessor } from '@old-echo/core/desk/lane';
import { Fault } from '@old-echo/core/fault/fault';
import { MAX_NAME_LENGTH, truncate } from '@old-echo/core/fault/text-shapes';
import type { Preview } from '@old-echo/core/recall/planned-changes';
import { scopeOfChanges } from '@old-echo/core/recall/recall-target';
import type { Scope } from '@old-echo/core/recall/scope-rules';

import type { Database } from '../database/connect';
import type { DeskRow } from '../database/tables';
import type { DeskMirror } from '../desk/desk-mirror';
import { parentsIn } from '../scenes/capture-scene';
import { insertScene } from '../scenes/insert-scene';
import { sceneView } from '../scenes/scene-store';
import type { RecallPlan } from './plan-recall';
import { restoreView } from './restore-store';

/** Keeps everything on the desk, in the version of the scene that comes back or of the one that stands there. */
export async function captureWayBack(
  db: Database,
  session: DeskMirror,
  desk: DeskRow,
  recall: Recall,
  target: RecallPlan['scene'],
): Promise<SceneView> {
  const of = recall.sceneId ?? desk.current_scene_id;
  const scene = of ? await sceneView(db, of) : undefined;
  const versionId =
    scene?.versionId ??
    (recall.resume ? await versionOf(db, recall.resume.restoreId) : await firstVersion(db, session.deskId));
  return insertScene(db, session.profile, {
    versionId,
    name: wayBackName(target),
    note: '',
    milestone: '',
    kind: 'way back',
    parents: scene ? await parentsIn(db, scene.productionId, desk) : [],
    state: session.state,
    madeAt: new Date(),
  });
}

/** "Before 9 Chorus": what the desk was before that came back. */
const wayBackName = (target: RecallPlan['scene']): string =>
  target.kind === 'way back' ? 'Before a way back' : truncate(`Before ${sceneTitle(target)}`, MAX_NAME_LENGTH);

/** Where ways back of a desk are kept on which no scene stands yet. @throws Fault `refused-input` */
async function firstVersion(db: Database, deskId: string): Promise<string> {
  const found = await db('versions')
    .join('productions', 'productions.id', 'versions.production_id')
    .where({ desk_id: deskId })
    .whereNull('productions.binned_at')
    .whereNull('versions.binned_at')
    .orderBy([{ column: 'productions.place' }, { column: 'versions.place' }])
    .first<{ id: string } | undefined>('versions.id');
  if (!found)
    throw new Fault(
      'refused-input',
      'This desk has no song or show to save the way back in.',
      'Nothing was sent. Create one under Mixes first.',
    );
  return found.id;
}

/** The version in which a restore has kept its way back. */
async function versionOf(db: Database, restoreId: string): Promise<string> {
  const { wayBack } = await restoreView(db, restoreId);
  return (await sceneView(db, wayBack?.sceneId ?? '')).versionId;
}

/** The scope of all that a plan touches, and what moves aside for it and back. Points of a processor that goes may go with it, so their lanes count too. */
export const scopeOfPlan = ({ changes, guarded }: Preview, aside: readonly string[]): Scope =>
  scopeOfChanges([
    ...changes,
    ...changes.flatMap(({ strip, key }) => {
      const lane = laneOfProcessor(key);
      return lane ? [{ strip, key: lane }] : [];
    }),
    ...guarded.map((strip) => ({ strip, key: 'mute/on' })),
    ...aside.flatMap((address) => readAddress(address) ?? []),
  ]);
