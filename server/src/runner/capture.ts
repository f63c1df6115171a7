import { Fault } from '@old-echo/core/contracts/fault';
import type { Capture, SceneView } from '@old-echo/core/contracts/scene';

import type { Database } from '../database/connect';
import { mustBeUnlocked } from '../desks/lock';
import { deskRow, standOn } from '../desks/store';
import { deskOfProduction } from '../productions/store';
import { isProtected } from '../scenes/bin';
import { insertScene } from '../scenes/insert';
import { changedMeanwhile, sceneRow, sceneView } from '../scenes/store';
import { handOver } from '../scenes/take-place';
import type { DeskSession } from '../sessions/session';
import { versionRow } from '../versions/store';

/**
 * Stores everything on the desk as a new scene and lets it stand there.
 * @throws Fault `link-lost`, `not-found`, `conflict`
 */
export async function captureScene(db: Database, session: DeskSession, request: Capture): Promise<SceneView> {
  const { production_id } = await versionRow(db, request.versionId);
  await mustBeOn(db, session, production_id);
  const [desk, state] = await Promise.all([deskRow(db, session.deskId), session.capture()]);
  return insertScene(
    db,
    session.profile,
    {
      ...request,
      kind: 'scene',
      parents: await parentIn(db, production_id, desk.scene_id),
      state,
      madeAt: new Date(),
    },
    { after: (tx, id) => standOn(tx, session.deskId, id) },
  );
}

/**
 * Puts what stands on the desk into the place of a scene: its name, words, scope and pin go to a new scene, which comes
 * from the old one; the old one goes to the bin.
 * @throws Fault `link-lost`, `not-found`, `protected`, `show-lock`, `conflict` where someone else changed it since
 */
export async function replaceScene(
  db: Database,
  session: DeskSession,
  { sceneId, revision }: { readonly sceneId: string; readonly revision: number },
): Promise<SceneView> {
  const old = await sceneView(db, sceneId);
  if (old.protected) throw isProtected(old.number, old.name);
  await mustBeOn(db, session, old.productionId);
  mustBeUnlocked(await deskRow(db, session.deskId));
  const state = await session.capture();
  const { name, note, milestone, tags, versionId } = old;
  const words = { versionId, name, note, milestone, tags, kind: 'scene' as const };
  return insertScene(
    db,
    session.profile,
    { ...words, parents: [old.id], state, madeAt: new Date() },
    {
      before: async (tx) => {
        const binned = await tx('scenes')
          .where({ id: old.id, revision, protected: false })
          .whereNull('binned_at')
          .update({ binned_at: new Date(), revision: revision + 1 });
        if (binned === 0) throw changedMeanwhile(old.name);
      },
      after: async (tx, id) => {
        await handOver(tx, old.id, id);
        await standOn(tx, session.deskId, id);
      },
    },
  );
}

async function mustBeOn(db: Database, session: DeskSession, productionId: string): Promise<void> {
  if ((await deskOfProduction(db, productionId)) !== session.deskId)
    throw new Fault(
      'refused-input',
      'This production is made on another desk.',
      'Choose a production of this desk.',
      'versionId',
    );
}

/** The scene that stands on the desk, as the only parent, where it belongs to the production. */
export async function parentIn(db: Database, productionId: string, sceneId: string | null): Promise<string[]> {
  if (sceneId === null) return [];
  return (await sceneRow(db, sceneId)).production_id === productionId ? [sceneId] : [];
}
