import { Fault } from '@old-echo/core/contracts/fault';
import type { Recall } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { Preview } from '@old-echo/core/preview/preview';
import { cutTo } from '@old-echo/core/desk/wording';
import { LONGEST_NAME } from '@old-echo/core/scene/suggest-name';
import type { Scope } from '@old-echo/core/scope/rules';

import type { Database } from '../database/connect';
import type { DeskRow } from '../desks/store';
import { restoreView } from '../restores/store';
import { insertScene } from '../scenes/insert';
import { sceneView } from '../scenes/store';
import type { DeskSession } from '../sessions/session';
import { parentIn } from './capture';
import type { Plan } from './plan';

/** Keeps everything on the desk, in the version of the scene that comes back or of the one that stands there. */
export async function keepWayBack(
  db: Database,
  session: DeskSession,
  desk: DeskRow,
  recall: Recall,
  { name, number }: Plan['scene'],
): Promise<SceneView> {
  const of = recall.sceneId ?? desk.scene_id;
  const scene = of ? await sceneView(db, of) : undefined;
  const versionId =
    scene?.versionId ??
    (recall.resume ? await versionOf(db, recall.resume.restoreId) : await firstVersion(db, session.deskId));
  return insertScene(db, session.profile, {
    versionId,
    name: wayBackName(name, number),
    note: '',
    milestone: '',
    kind: 'way back',
    parents: scene ? await parentIn(db, scene.productionId, desk.scene_id) : [],
    state: session.state,
    madeAt: new Date(),
  });
}

const wayBackName = (name: string, number: number): string => {
  const whole = number > 0 ? `Way back, before restore of ${number}` : `Way back, before ${name}`;
  return cutTo(whole, LONGEST_NAME);
};

/** Where ways back of a desk are kept on which no scene stands yet. @throws Fault `refused-input` */
async function firstVersion(db: Database, deskId: string): Promise<string> {
  const found = (await db('versions')
    .join('productions', 'productions.id', 'versions.production_id')
    .where({ desk_id: deskId })
    .whereNull('productions.binned_at')
    .whereNull('versions.binned_at')
    .orderBy([{ column: 'productions.place' }, { column: 'versions.place' }])
    .first('versions.id')) as { id: string } | undefined;
  if (!found)
    throw new Fault(
      'refused-input',
      'This desk has no song or show yet in which the way back could be kept.',
      'Nothing was sent. Make one under Mixes first.',
    );
  return found.id;
}

/** The version in which a restore has kept its way back. */
async function versionOf(db: Database, restoreId: string): Promise<string> {
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
