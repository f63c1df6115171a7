import type { Recall } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { Preview } from '@old-echo/core/preview/preview';
import type { Scope } from '@old-echo/core/scope/rules';

import type { Database } from '../database/connect';
import type { DeskRow } from '../desks/store';
import { restoreView } from '../restores/store';
import { insertScene } from '../scenes/insert';
import { sceneView } from '../scenes/store';
import type { DeskSession } from '../sessions/session';
import { parentIn } from './capture';

/** Keeps everything on the desk, in the version of the scene that comes back or of the one that stands there. */
export async function keepWayBack(
  db: Database,
  session: DeskSession,
  desk: DeskRow,
  recall: Recall,
  number: number,
): Promise<SceneView> {
  const of = recall.sceneId ?? desk.scene_id;
  const scene = of ? await sceneView(db, of) : undefined;
  const versionId = scene?.versionId ?? (await versionOf(db, recall.resume?.restoreId));
  return insertScene(db, session.profile, {
    versionId,
    name: `Way back, before restore of ${number}`,
    note: '',
    milestone: '',
    kind: 'way back',
    parents: scene ? await parentIn(db, scene.productionId, desk.scene_id) : [],
    state: session.state,
    madeAt: new Date(),
  });
}

/** The version in which a restore has kept its way back. */
async function versionOf(db: Database, restoreId = ''): Promise<string> {
  const { wayBack } = await restoreView(db, restoreId);
  return (await sceneView(db, wayBack?.sceneId ?? '')).versionId;
}

/** The scope of all cells that a plan touches. Points of a processor that goes may go with it, so their lanes count too. */
export function touched({ changes, guarded }: Preview): Scope {
  const strips = new Map<string, Set<string>>();
  const touch = (section: string, strip: string) => strips.set(section, (strips.get(section) ?? new Set()).add(strip));
  for (const { section, strip } of changes) touch(section, strip);
  for (const { key, strip } of changes) if (/^inserts\/.*kind$/.test(key)) touch('automation', strip);
  for (const strip of guarded) touch('mute', strip);
  return [...strips].map(([section, of]) => ({ strips: [...of], sections: [section], take: true }));
}
