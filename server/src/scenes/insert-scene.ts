import type { SceneKind, SceneView } from '@old-echo/core/contracts/scene';
import type { Profile } from '@old-echo/core/desk/profile';
import { isWhole, type State } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import type { Scope } from '@old-echo/core/recall/scope-rules';
import { type ChangeSummary, planScene, type ScenePlan } from '@old-echo/core/scenes/plan-scene';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import { inTransaction } from '../database/transaction';
import { copyStrips, holdDiffering, holdStrips, replaceStrips, storeStrips } from '../desk/strip-states';
import { copyOutboard, keepOutboard } from './scene-outboard';
import { sceneRow, sceneView } from './scene-store';
import { uniqueSceneName, withUniqueName } from './unique-names';

/** Of a scene that is as the one it came from. */
const NOTHING_CHANGED: ChangeSummary = { settings: 0, strips: [], names: [] };

interface SceneMeta {
  readonly id?: string;
  readonly versionId: string;
  readonly name: string;
  readonly note: string;
  readonly milestone: string;
  readonly tags?: readonly string[];
  readonly kind: SceneKind;
  readonly parents: readonly string[];
  readonly madeAt: Date;
  /** Who made it, where that is known. */
  readonly by?: string;
  /** How much of it is recalled, where that was saved with it. */
  readonly scope?: Scope | null;
  readonly isProtected?: boolean;
}

/** Everything of a scene but its state, with where it stands and what it changed. */
export interface SceneRecord extends SceneMeta {
  readonly id: string;
  readonly productionId: string;
  readonly place: number;
  /** Null for what was autosaved. */
  readonly number: number | null;
  readonly partial: boolean;
  readonly changed: ChangeSummary;
}

export interface NewScene extends SceneMeta {
  readonly state: State;
}

/** What else belongs to the same transaction as a new scene. */
interface TransactionHooks {
  readonly before?: (tx: Database) => Promise<void>;
  readonly after?: (tx: Database, scene: { id: string; number: number; name: string }) => Promise<unknown>;
}

/**
 * Stores a whole scene, or nothing of it.
 * @throws Fault `not-found` where the version is gone, `conflict` where its name is taken
 */
export async function insertScene(
  db: Database,
  profile: Profile,
  scene: NewScene,
  around: TransactionHooks = {},
): Promise<SceneView> {
  const id = scene.id ?? newId();
  const store = () =>
    inTransaction(db, async (tx) => {
      await around.before?.(tx);
      const number = await writeScene(tx, profile, id, scene);
      await around.after?.(tx, { id, number, name: scene.name });
    });
  await withUniqueName(scene.name, store);
  return sceneView(db, id);
}

/** {@link insertScene} inside a transaction, with an id. Returns its number. */
export async function writeScene(tx: Database, profile: Profile, id: string, scene: NewScene): Promise<number> {
  const plan = await planFrom(tx, profile, scene.parents[0], scene.state);
  const partial = !isWhole(profile, scene.state);
  const { seq, number } = await insertMetadata(tx, id, { ...scene, partial }, plan.changed);
  if (scene.kind === 'scene') await keepOutboard(tx, id, scene.versionId);
  await storeStrips(tx, [{ seq, plan }]);
  return number;
}

/** What storing a state as a scene writes that comes from a stored one. Call inside the transaction that stores it. */
export const planFrom = async (
  tx: Database,
  profile: Profile,
  parent: string | undefined,
  state: State,
): Promise<ScenePlan> =>
  planScene(profile, state, parent === undefined ? new Map() : await holdDiffering(tx, parent, state));

/**
 * Stores a scene that is another but for some settings of some strips, inside a transaction, with an id: only those strips are read
 * and written. What stood beside the desk then stays with it.
 */
export async function writeEdited(
  tx: Database,
  profile: Profile,
  id: string,
  scene: SceneMeta,
  from: { readonly id: string; readonly partial: boolean },
  edit: { readonly strips: readonly string[]; readonly edited: (strips: State) => State },
): Promise<void> {
  const before = await holdStrips(tx, from.id, edit.strips);
  const strips = Object.fromEntries([...before].map(([strip, { settings }]) => [strip, settings]));
  const plan = planScene(profile, edit.edited(strips), before);
  const { seq } = await insertMetadata(tx, id, { ...scene, partial: from.partial }, plan.changed);
  await copyOutboard(tx, id, from.id);
  await copyStrips(tx, seq, from.id);
  await replaceStrips(tx, seq, plan);
}

/**
 * Copies a scene into a version of a production on the same kind of desk, under its own name or, where that is taken, with
 * a number behind it. The copy's parent is the scene it was made from.
 * @throws Fault `not-found`, `conflict`, `refused-input` where the other desk is of another kind
 */
export async function copyScene(
  db: Database,
  id: string,
  target: { readonly versionId: string; readonly name?: string | undefined },
): Promise<SceneView> {
  const copy = newId();
  const name = target.name ?? (await uniqueSceneName(db, target.versionId, (await sceneRow(db, id)).name));
  await withUniqueName(name, () =>
    inTransaction(db, (tx) => insertCopy(tx, copy, id, { versionId: target.versionId, name })),
  );
  return sceneView(db, copy);
}

/** {@link copyScene} inside a transaction, with an id and a name that is known to be free. */
export async function insertCopy(
  tx: Database,
  copy: string,
  id: string,
  { versionId, name }: { readonly versionId: string; readonly name: string },
): Promise<void> {
  await assertVersionFits(tx, id, versionId);
  const [from, tags] = await Promise.all([sceneRow(tx, id), tx('scene_tags').where({ scene_id: id }).pluck('tag')]);
  const words = { versionId, name, note: from.note, milestone: '', tags };
  const made = { ...words, kind: 'scene' as const, parents: [id], madeAt: new Date(), partial: from.partial === 1 };
  const { seq } = await insertMetadata(tx, copy, made, NOTHING_CHANGED);
  await tx('scenes').where({ id: copy }).update({ scope: from.scope });
  await copyStrips(tx, seq, id);
  await copyOutboard(tx, copy, id);
}

/** Refuses a version whose production is on another kind of desk than a scene. @throws Fault `not-found`, `refused-input` */
export async function assertVersionFits(db: Database, sceneId: string, versionId: string): Promise<void> {
  const kinds = await db('productions')
    .join('desks', 'desks.id', 'productions.desk_id')
    .whereIn('productions.id', (some) => some.from('scenes').where('scenes.id', sceneId).select('production_id'))
    .orWhereIn('productions.id', (some) =>
      some.from('versions').where('versions.id', versionId).select('production_id'),
    )
    .distinct('profile_id');
  if (kinds.length > 1)
    throw new Fault(
      'refused-input',
      'That scene is of a different desk model.',
      'Choose one of the same desk model, or carry its song or show over.',
      'versionId',
    );
}

/**
 * The next place in the production a version belongs to, and the next number of its captured scenes, where it is to have
 * one; no other scene gets them.
 */
export async function takePlaceIn(
  tx: Database,
  versionId: string,
  numbered: boolean,
): Promise<{ productionId: string; place: number; number: number | null }> {
  const version = await tx('versions').where({ id: versionId }).first('production_id', 'name', 'binned_at');
  if (!version) throw new Fault('not-found', 'This version no longer exists.', 'Choose another version and try again.');
  if (version.binned_at)
    throw new Fault('conflict', `The version ${version.name} is in the bin.`, 'Take the version out of the bin first.');
  const production = found(
    await tx('productions').where({ id: version.production_id }).forUpdate().first('next_number', 'next_ordinal'),
  );
  await tx('productions')
    .where({ id: version.production_id })
    .update({ next_ordinal: production.next_ordinal + 1, next_number: production.next_number + (numbered ? 1 : 0) });
  const number = numbered ? production.next_number : null;
  return { productionId: version.production_id, place: production.next_ordinal, number };
}

/** Writes all of a scene but its state; returns its number, and what its strips are kept under. */
async function insertMetadata(
  tx: Database,
  id: string,
  scene: SceneMeta & { readonly partial: boolean },
  changed: ChangeSummary,
): Promise<{ seq: number; number: number }> {
  const at = await takePlaceIn(tx, scene.versionId, scene.kind === 'scene');
  const seqs = await insertRecords(tx, [{ ...scene, ...at, id, changed }]);
  return { seq: found(seqs.get(id)), number: at.number ?? 0 };
}

/** Writes all of some scenes but their states, at places that are their own; returns by their ids what their strips are kept under. */
export async function insertRecords(tx: Database, scenes: readonly SceneRecord[]): Promise<Map<string, number>> {
  await tx('scenes').insert(
    scenes.map((scene) => ({
      id: scene.id,
      production_id: scene.productionId,
      version_id: scene.versionId,
      ordinal: scene.place,
      number: scene.number,
      name: scene.name,
      note: scene.note,
      milestone: scene.milestone,
      kind: scene.kind,
      protected: scene.isProtected ?? false,
      partial: scene.partial,
      scope: scene.scope ? toJson(scene.scope) : null,
      ...changeColumns(scene.changed),
      made_at: scene.madeAt,
      made_by: scene.by ?? '',
    })),
  );
  const ids = scenes.map(({ id }) => id);
  const rows = await tx('scenes').whereIn('id', ids).select('id', 'seq');
  const seqs = new Map(rows.map(({ id, seq }) => [id, seq]));
  const parents = scenes.flatMap(({ id, parents: all }) =>
    all.map((parent_id, place) => ({ scene_id: id, parent_id, place })),
  );
  if (parents.length > 0) await tx('scene_parents').insert(parents);
  const tags = scenes.flatMap(({ id, tags: all = [] }) => all.map((tag) => ({ scene_id: id, tag })));
  if (tags.length > 0) await tx('scene_tags').insert(tags);
  await insertChangedStrips(
    tx,
    scenes.map(({ id, changed }) => ({ seq: found(seqs.get(id)), changed })),
  );
  return seqs;
}

/** Says anew what a scene changed from its first parent. */
export async function recordChanges(tx: Database, seq: number, changed: ChangeSummary): Promise<void> {
  await tx('scenes').where({ seq }).update(changeColumns(changed));
  await tx('scene_changed_strips').where({ scene_seq: seq }).delete();
  await insertChangedStrips(tx, [{ seq, changed }]);
}

/** What a scene changed, as it is shown and searched in lists. */
const changeColumns = ({ settings, strips, names }: ChangeSummary) => ({
  changed_settings: settings,
  changed_strips: strips.length,
  changed_strip_names: names.join('\n'),
});

/** Notes on which strips scenes changed something, to be filtered by. */
async function insertChangedStrips(
  tx: Database,
  scenes: readonly { readonly seq: number; readonly changed: ChangeSummary }[],
): Promise<void> {
  const rows = scenes.flatMap(({ seq, changed }) => changed.strips.map((strip) => ({ scene_seq: seq, strip })));
  if (rows.length > 0) await tx('scene_changed_strips').insert(rows);
}
