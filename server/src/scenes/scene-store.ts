import type { SceneEdit, SceneView } from '@old-echo/core/contracts/scene';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { scopeShape } from '@old-echo/core/recall/scope-rules';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { fromJson, toJson } from '../database/json-column';
import type { SceneRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { withUniqueName } from './unique-names';

/** Rows as scenes, in the same order. */
export async function sceneViews(db: Database, rows: readonly SceneRow[]): Promise<SceneView[]> {
  const ids = rows.map((row) => row.id);
  const [links, tags] = await Promise.all([
    db('scene_parents')
      .join('scenes', 'scenes.id', 'scene_parents.parent_id')
      .whereIn('scene_id', ids)
      .orderBy('place')
      .select('scene_id', 'parent_id', 'number'),
    db('scene_tags').whereIn('scene_id', ids).orderBy('tag'),
  ]);
  const [linksOf, tagsOf] = [byScene(links), byScene(tags)];
  return rows.map((row) => ({
    id: row.id,
    productionId: row.production_id,
    versionId: row.version_id,
    number: row.number ?? 0,
    place: row.ordinal,
    name: row.name,
    note: row.note,
    milestone: row.milestone,
    tags: (tagsOf.get(row.id) ?? []).map(({ tag }) => tag),
    protected: row.protected === 1,
    partial: row.partial === 1,
    kind: row.kind,
    parents: (linksOf.get(row.id) ?? []).map((link) => link.parent_id),
    parentNumber: linksOf.get(row.id)?.[0]?.number ?? null,
    joins: (linksOf.get(row.id) ?? []).slice(1).flatMap(({ number }) => number ?? []),
    scope: row.scope === null ? null : parseShape(scopeShape, fromJson(row.scope)),
    changed: { settings: row.changed_settings, strips: row.changed_strips },
    madeAt: row.made_at.toISOString(),
    by: row.made_by,
    binnedAt: row.binned_at?.toISOString() ?? null,
    revision: row.revision,
  }));
}

function byScene<T extends { readonly scene_id: string }>(rows: readonly T[]): Map<string, T[]> {
  const lists = new Map<string, T[]>();
  for (const row of rows) {
    const list = lists.get(row.scene_id);
    if (list) list.push(row);
    else lists.set(row.scene_id, [row]);
  }
  return lists;
}

/** @throws Fault `not-found` */
export async function sceneRow(db: Database, id: string): Promise<SceneRow> {
  const row = await db('scenes').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This scene no longer exists.', 'Go back to the mixes and choose another.');
  return row;
}

/** Who comes from whom in whole productions: the parents of a scene. */
export async function loadParents(
  db: Database,
  productions: readonly string[],
): Promise<(scene: string) => readonly string[]> {
  const links = await db('scene_parents')
    .join('scenes', 'scenes.id', 'scene_parents.scene_id')
    .whereIn('production_id', productions)
    .select('scene_id', 'parent_id');
  const parents = new Map<string, string[]>();
  for (const { scene_id, parent_id } of links) parents.set(scene_id, [...(parents.get(scene_id) ?? []), parent_id]);
  return (scene) => parents.get(scene) ?? [];
}

/** @throws Fault `not-found` */
export async function sceneView(db: Database, id: string): Promise<SceneView> {
  return found((await sceneViews(db, [await sceneRow(db, id)]))[0]);
}

/**
 * Changes what is written about a scene; its state never changes. A scene that was kept by itself becomes one's own when
 * it gets a name.
 * @throws Fault `not-found`, `conflict` where someone else changed it since, or its new name is taken
 */
export async function editScene(db: Database, id: string, edit: SceneEdit): Promise<SceneView> {
  const { revision, scope, tags, ...words } = edit;
  const columns = {
    ...words,
    ...(scope === undefined ? {} : { scope: scope && toJson(scope) }),
    ...(edit.name === undefined ? {} : { kind: 'scene' as const }),
  };
  await withUniqueName(edit.name ?? '', () =>
    inTransaction(db, async (tx) => {
      const changed = await tx('scenes')
        .where({ id, revision })
        .update({ ...columns, revision: revision + 1 });
      if (edit.name !== undefined) await giveNumber(tx, id);
      if (changed === 0) throw editConflict((await sceneRow(tx, id)).name);
      if (!tags) return;
      await tx('scene_tags').where({ scene_id: id }).delete();
      if (tags.length > 0) await tx('scene_tags').insert(tags.map((tag) => ({ scene_id: id, tag })));
    }),
  );
  return sceneView(db, id);
}

/** Gives a scene that was kept by itself, and is someone's own now, the next number of its production. */
async function giveNumber(tx: Database, id: string): Promise<void> {
  const { number, production_id } = await sceneRow(tx, id);
  if (number !== null) return;
  const production = found(await tx('productions').where({ id: production_id }).forUpdate().first('next_number'));
  await tx('productions').where({ id: production_id }).increment('next_number', 1);
  await tx('scenes').where({ id }).update({ number: production.next_number });
}

/** What the second of two people is told who edited the same thing. */
export const editConflict = (name: string): Fault =>
  new Fault(
    'conflict',
    `Someone else changed ${name} meanwhile.`,
    'What you typed is still here. Look at what changed, then save again.',
  );
