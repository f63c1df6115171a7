import { sceneTitle, type SceneView } from '@old-echo/core/contracts/scene';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { inTransaction } from '../database/transaction';
import { assertVersionFits, takePlaceIn } from './insert-scene';
import { sceneRow, sceneView } from './scene-store';
import { uniqueSceneName, withUniqueName } from './unique-names';

/** What a protected scene answers to whatever would take it away. */
export const protectedFault = (scene: { readonly number: number | null; readonly name: string }): Fault =>
  new Fault('protected', `${sceneTitle(scene)} is protected.`, 'Unprotect it first, if you are sure.');

/** Puts a scene into the bin, from where it can come back. @throws Fault `not-found`, `protected` */
export async function binScene(db: Database, id: string): Promise<SceneView> {
  const { number, name } = await sceneRow(db, id);
  const changed = await db('scenes')
    .where({ id, protected: 0 })
    .update({ binned_at: new Date(), revision: db.raw('revision + 1') });
  if (changed === 0) throw protectedFault({ number, name });
  return sceneView(db, id);
}

/** Puts a scene into the bin that nobody changed, binned or protected since that revision; returns whether it did. */
export const binIfUnchanged = async (tx: Database, id: string, revision: number): Promise<boolean> =>
  (await tx('scenes')
    .where({ id, revision, protected: 0 })
    .whereNull('binned_at')
    .update({ binned_at: new Date(), revision: revision + 1 })) > 0;

/** Takes a scene out of the bin whose name nothing else has. */
export const takeOutOfBin = (tx: Database, id: string): Promise<unknown> =>
  tx('scenes')
    .where({ id })
    .update({ binned_at: null, revision: tx.raw('revision + 1') });

/**
 * Brings a scene back from the bin, under its name or, where that is taken by now, with a number behind it.
 * @throws Fault `not-found`, `conflict` while its version is in the bin
 */
export async function unbinScene(db: Database, id: string): Promise<SceneView> {
  const { version_id, name, kind } = await sceneRow(db, id);
  const bring = async (tx: Database) => {
    const version = found(await tx('versions').where({ id: version_id }).forUpdate().first('name', 'binned_at'));
    if (version.binned_at)
      throw new Fault(
        'conflict',
        `Its version, ${version.name}, is in the bin.`,
        'Take the version out of the bin first.',
      );
    await tx('scenes')
      .where({ id })
      .whereNotNull('binned_at')
      .update({
        binned_at: null,
        name: kind === 'scene' ? await uniqueSceneName(tx, version_id, name) : name,
        revision: tx.raw('revision + 1'),
      });
  };
  await withUniqueName(name, () => inTransaction(db, bring));
  return sceneView(db, id);
}

/**
 * Moves a scene to another version, under its name or with a number behind it. In another production it also gets the next
 * number there.
 * @throws Fault `not-found`, `conflict`, `refused-input` where that version is on another kind of desk
 */
export async function moveScene(db: Database, id: string, versionId: string): Promise<SceneView> {
  const scene = await sceneRow(db, id);
  const move = async (tx: Database) => {
    if (scene.version_id === versionId) return;
    await assertVersionFits(tx, id, versionId);
    const production = await tx('versions').where({ id: versionId }).forUpdate().first('production_id');
    const stays = production?.production_id === scene.production_id;
    const to = stays
      ? { productionId: scene.production_id, place: scene.ordinal, number: scene.number }
      : await takePlaceIn(tx, versionId, scene.kind === 'scene');
    await tx('scenes')
      .where({ id })
      .update({
        version_id: versionId,
        production_id: to.productionId,
        ordinal: to.place,
        number: to.number,
        name: scene.kind === 'scene' ? await uniqueSceneName(tx, versionId, scene.name) : scene.name,
        revision: tx.raw('revision + 1'),
      });
  };
  await withUniqueName(scene.name, () => inTransaction(db, move));
  return sceneView(db, id);
}
