import type { Capture, Replacement, SceneView } from '@old-echo/core/contracts/scene';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import type { DeskRow } from '../database/tables';
import { baselineScenes, setCaptured } from '../desk/baseline';
import { readWhole } from '../desk/desk-lease';
import type { DeskMirror } from '../desk/desk-mirror';
import { deskRow, setSwapTo } from '../desk/desk-store';
import { assertNotShowLocked } from '../desk/show-lock';
import { insertScene } from './insert-scene';
import { deskOfProduction } from './production-store';
import { transferReferences } from './replace-scene';
import { binIfUnchanged, protectedFault } from './scene-bin';
import { editConflict, sceneView } from './scene-store';
import { versionRow } from './version-store';

/**
 * Stores everything on the desk as a new scene and lets it stand there.
 * @throws Fault `link-lost`, `not-found`, `conflict`, `desk-busy` in the middle of a restore
 */
export async function captureScene(
  db: Database,
  session: DeskMirror,
  request: Capture,
  lease: number,
): Promise<SceneView> {
  const { production_id } = await versionRow(db, request.versionId);
  await assertProductionOnDesk(db, session, production_id);
  const state = await readWhole(db, session, lease);
  const desk = await deskRow(db, session.deskId);
  return insertScene(
    db,
    session.profile,
    {
      ...request,
      kind: 'scene',
      parents: await parentsIn(db, production_id, desk),
      state,
      madeAt: new Date(),
    },
    {
      after: async (tx, scene) => {
        await setCaptured(tx, session.deskId, scene, state);
        await swapWithin(tx, session.deskId, production_id, scene.id);
      },
    },
  );
}

/**
 * Puts what stands on the desk into the place of a scene: its name, words, scope and place at hand go to a new scene, which comes
 * from the old one; the old one goes to the bin.
 * @throws Fault `link-lost`, `not-found`, `protected`, `show-lock`, `conflict` where someone else changed it since
 */
export async function replaceScene(
  db: Database,
  session: DeskMirror,
  { sceneId, revision, ...given }: Replacement,
  lease: number,
): Promise<SceneView> {
  const old = await sceneView(db, sceneId);
  if (old.protected) throw protectedFault(old);
  await assertProductionOnDesk(db, session, old.productionId);
  assertNotShowLocked(await deskRow(db, session.deskId));
  const state = await readWhole(db, session, lease);
  const { name, versionId } = old;
  const { note = old.note, milestone = old.milestone, tags = old.tags } = given;
  const words = { versionId, name, note, milestone, tags, kind: 'scene' as const };
  return insertScene(
    db,
    session.profile,
    { ...words, parents: [old.id], state, madeAt: new Date() },
    {
      before: async (tx) => {
        if (!(await binIfUnchanged(tx, old.id, revision))) throw editConflict(old.name);
      },
      after: async (tx, scene) => {
        await transferReferences(tx, old.id, scene.id);
        await setCaptured(tx, session.deskId, scene, state);
      },
    },
  );
}

async function assertProductionOnDesk(db: Database, session: DeskMirror, productionId: string): Promise<void> {
  if ((await deskOfProduction(db, productionId)) !== session.deskId)
    throw new Fault(
      'refused-input',
      'This song or show is on another desk.',
      'Choose a song or show of this desk.',
      'versionId',
    );
}

/** A desk that goes over to another production swaps within that: to the scene that was captured there before. */
async function swapWithin(tx: Database, deskId: string, productionId: string, captured: string): Promise<void> {
  const partner = await tx('desks')
    .join('scenes', 'scenes.id', 'desks.swap_scene_id')
    .where('desks.id', deskId)
    .first<{ production_id: string } | undefined>('production_id');
  if (!partner || partner.production_id === productionId) return;
  const before = await tx('scenes')
    .where({ production_id: productionId, kind: 'scene' })
    .whereNull('binned_at')
    .whereNot({ id: captured })
    .orderBy('ordinal', 'desc')
    .first('id');
  await setSwapTo(tx, deskId, before?.id ?? null);
}

/** At most so many scenes count as parents of what is captured. */
const MAX_PARENTS = 8;

/**
 * What a capture descends from: the scenes that the desk's baseline is made of, the one that makes up most of it first, as
 * far as they belong to the production.
 */
export async function parentsIn(db: Database, productionId: string, desk: DeskRow): Promise<string[]> {
  if (desk.current_scene_id === null) return [];
  const scenes = await baselineScenes(db, desk);
  const own = await db('scenes').whereIn('id', scenes).where({ production_id: productionId }).pluck('id');
  return scenes.filter((id) => own.includes(id)).slice(0, MAX_PARENTS);
}
