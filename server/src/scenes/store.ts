import { Fault } from '@old-echo/core/contracts/fault';
import { readShape } from '@old-echo/core/contracts/read';
import type { SceneEdit, SceneView } from '@old-echo/core/contracts/scene';
import type { Profile } from '@old-echo/core/desk/profile';
import type { State } from '@old-echo/core/desk/state';
import { drift, stripsIn } from '@old-echo/core/scene/drift';
import { scopeShape } from '@old-echo/core/scope/rules';
import { ulid } from 'ulid';

import type { Database } from '../database/connect';
import { fromJson } from '../database/json';
import { loadState, storeStrips } from './strip-states';

interface SceneRow {
  readonly id: string;
  readonly version_id: string;
  readonly production_id: string;
  readonly number: number;
  readonly name: string;
  readonly note: string;
  readonly milestone: string;
  readonly kind: SceneView['kind'];
  readonly scope: unknown;
  readonly changed_settings: number;
  readonly changed_strips: number;
  readonly made_at: Date;
  readonly revision: number;
}

const scenes = (db: Database) =>
  db('scenes').join('versions', 'versions.id', 'scenes.version_id').select('scenes.*', 'versions.production_id');

async function withParents(db: Database, rows: readonly SceneRow[]): Promise<SceneView[]> {
  const links = (await db('scene_parents')
    .whereIn(
      'scene_id',
      rows.map((row) => row.id),
    )
    .orderBy('place')) as { scene_id: string; parent_id: string }[];
  return rows.map((row) => ({
    id: row.id,
    productionId: row.production_id,
    versionId: row.version_id,
    number: row.number,
    name: row.name,
    note: row.note,
    milestone: row.milestone,
    kind: row.kind,
    parents: links.filter((link) => link.scene_id === row.id).map((link) => link.parent_id),
    scope: row.scope === null ? null : readShape(scopeShape, fromJson(row.scope)),
    changed: { settings: row.changed_settings, strips: row.changed_strips },
    madeAt: row.made_at.toISOString(),
    revision: row.revision,
  }));
}

/** All scenes of a production, the newest first. */
export const productionScenes = async (db: Database, productionId: string): Promise<SceneView[]> =>
  withParents(db, (await scenes(db).where({ production_id: productionId }).orderBy('number', 'desc')) as SceneRow[]);

/** @throws Fault `not-found` */
export async function sceneView(db: Database, id: string): Promise<SceneView> {
  const [view] = await withParents(db, (await scenes(db).where('scenes.id', id)) as SceneRow[]);
  if (!view) throw new Fault('not-found', 'There is no such scene.', 'Go back to the mixes and choose one there.');
  return view;
}

export interface NewScene {
  readonly id?: string;
  readonly versionId: string;
  readonly name: string;
  readonly note: string;
  readonly milestone: string;
  readonly kind: SceneView['kind'];
  readonly parents: readonly string[];
  readonly state: State;
  readonly madeAt: Date;
}

/**
 * Stores a whole scene, or nothing of it.
 * @throws Fault `not-found` where the version is gone, `conflict` where its name is taken
 */
export async function insertScene(db: Database, profile: Profile, scene: NewScene): Promise<SceneView> {
  const id = scene.id ?? ulid(scene.madeAt.getTime());
  const [parent] = scene.parents;
  const changes = parent ? drift(profile, await loadState(db, parent), scene.state) : [];
  await unlessNameIsTaken(scene.name, () =>
    db.transaction(async (tx) => {
      const version = (await tx('versions').where({ id: scene.versionId }).first('production_id')) as
        { production_id: string } | undefined;
      if (!version)
        throw new Fault(
          'not-found',
          'There is no such version.',
          'Choose a version of the production and capture again.',
        );
      const production = (await tx('productions')
        .where({ id: version.production_id })
        .forUpdate()
        .first('next_number')) as {
        next_number: number;
      };
      await tx('productions').where({ id: version.production_id }).increment('next_number', 1);
      await tx('scenes').insert({
        id,
        version_id: scene.versionId,
        number: production.next_number,
        name: scene.name,
        note: scene.note,
        milestone: scene.milestone,
        kind: scene.kind,
        changed_settings: changes.length,
        changed_strips: stripsIn(changes),
        made_at: scene.madeAt,
      });
      if (scene.parents.length > 0)
        await tx('scene_parents').insert(scene.parents.map((parent_id, place) => ({ scene_id: id, parent_id, place })));
      await storeStrips(tx, id, scene.state);
    }),
  );
  return sceneView(db, id);
}

/**
 * Changes what is written about a scene; its state never changes.
 * @throws Fault `conflict` where someone else changed it since, or its new name is taken
 */
export async function editScene(db: Database, id: string, edit: SceneEdit): Promise<SceneView> {
  const { revision, scope, ...words } = edit;
  const columns = { ...words, ...(scope === undefined ? {} : { scope: scope && JSON.stringify(scope) }) };
  const changed = await unlessNameIsTaken(edit.name ?? '', () =>
    db('scenes')
      .where({ id, revision })
      .update({ ...columns, revision: revision + 1 }),
  );
  const view = await sceneView(db, id);
  if (changed === 0)
    throw new Fault(
      'conflict',
      `${view.name} was changed by someone else meanwhile.`,
      'Your words are still here. Look at what changed, then save again.',
    );
  return view;
}

async function unlessNameIsTaken<T>(name: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (
      error instanceof Error &&
      'code' in error &&
      error.code === 'ER_DUP_ENTRY' &&
      error.message.includes('own_name')
    )
      throw new Fault('conflict', `This version already has a scene called ${name}.`, 'Choose another name.', 'name');
    throw error;
  }
}
