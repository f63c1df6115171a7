import type {
  NewProduction,
  ProductionEdit,
  ProductionView,
  ProductionWords,
  VersionView,
} from '@old-echo/core/contracts/production';
import type { Profile } from '@old-echo/core/desk/profile';
import { Fault } from '@old-echo/core/fault/fault';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { newId } from '../database/new-id';
import { nextPlace } from '../database/next-place';
import type { ProductionRow, VersionRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { readStoredProfile } from '../desk/profile-store';
import { removeScenes } from './delete-scenes';
import { insertCopy } from './insert-scene';
import { protectedFault } from './scene-bin';
import { editConflict, sceneRow } from './scene-store';
import { addVersion } from './version-store';

/** What the versions' scenes add up to. */
interface VersionTotals {
  readonly version_id: string;
  readonly oldest: number;
  readonly newest: number;
  readonly scenes: string | number;
  readonly newest_own: number | null;
}

/** Every production with its versions, in order; those in the bin too. */
export async function productionViews(db: Database): Promise<ProductionView[]> {
  const [productions, versions, sums, binned, tags] = await Promise.all([
    db('productions').whereNotIn('id', db('jobs').whereNotNull('making_id').select('making_id')).orderBy('place'),
    db('versions').orderBy('place'),
    db('scenes')
      .whereNull('binned_at')
      .groupBy('version_id')
      .min({ oldest: 'ordinal' })
      .max({ newest: 'ordinal' })
      .select<VersionTotals[]>(
        'version_id',
        db.raw(`SUM(kind = 'scene') AS scenes`),
        db.raw(`MAX(IF(kind = 'scene', ordinal, NULL)) AS newest_own`),
      ),
    db('scenes')
      .whereNotNull('binned_at')
      .groupBy('production_id')
      .count({ n: '*' })
      .select<{ production_id: string; n: number }[]>('production_id'),
    db('scene_tags')
      .join('scenes', 'scenes.id', 'scene_tags.scene_id')
      .whereNull('binned_at')
      .orderBy('tag')
      .distinct<{ production_id: string; tag: string }[]>('production_id', 'tag'),
  ]);
  const sumOf = new Map(sums.map((sum) => [sum.version_id, sum]));
  // Only the scenes that are pointed at.
  const pointed = await db('scenes')
    .whereIn(
      'id',
      versions.flatMap((v) => v.from_scene_id ?? []),
    )
    .orWhereIn(
      ['production_id', 'ordinal'],
      versions.flatMap((v) => {
        const place = sumOf.get(v.id)?.newest_own;
        return place == null ? [] : [[v.production_id, place]];
      }),
    )
    .select('id', 'production_id', 'ordinal', 'binned_at');
  const view = (v: VersionRow): VersionView => {
    const sum = sumOf.get(v.id);
    const from = pointed.find((scene) => scene.id === v.from_scene_id);
    const newest = pointed.find((s) => s.production_id === v.production_id && s.ordinal === sum?.newest_own);
    return {
      id: v.id,
      name: v.name,
      note: v.note,
      status: v.status,
      fromSceneId: v.from_scene_id,
      followsId: v.follows_id,
      fromPlace: from && from.production_id === v.production_id && !from.binned_at ? from.ordinal : null,
      newestSceneId: newest?.id ?? null,
      places: sum ? { oldest: sum.oldest, newest: sum.newest } : null,
      scenes: Number(sum?.scenes ?? 0),
      binnedAt: v.binned_at?.toISOString() ?? null,
      revision: v.revision,
    };
  };
  return productions.map((row) => {
    const own = versions.filter((v) => v.production_id === row.id).map(view);
    return {
      id: row.id,
      name: row.name,
      kind: row.kind,
      note: row.note,
      deskId: row.desk_id,
      versions: own.filter((v) => v.binnedAt === null),
      binnedVersions: own.filter((v) => v.binnedAt !== null),
      binned: binned.find((b) => b.production_id === row.id)?.n ?? 0,
      tags: tags.filter((t) => t.production_id === row.id).map((t) => t.tag),
      binnedAt: row.binned_at?.toISOString() ?? null,
      revision: row.revision,
    };
  });
}

/** @throws Fault `not-found` */
export async function productionRow(db: Database, id: string): Promise<ProductionRow> {
  const row = await db('productions').where({ id }).first();
  if (!row) throw new Fault('not-found', 'This song or show no longer exists.', 'Choose another under Mixes.');
  return row;
}

/** Enters a production behind the others, without any version. */
export async function addProduction(tx: Database, { deskId, ...own }: ProductionWords & { id: string }): Promise<void> {
  await tx('productions').insert({ ...own, desk_id: deskId, place: await nextPlace(tx, 'productions') });
}

/** Says which number and place the next scene of a production gets. */
export const setNextNumbers = (tx: Database, id: string, number: number, place: number): Promise<unknown> =>
  tx('productions').where({ id }).update({ next_number: number, next_ordinal: place });

/** Removes a production with its versions, whose scenes are gone already. */
export async function deleteProduction(tx: Database, id: string): Promise<void> {
  await tx('versions').where({ production_id: id }).delete();
  await tx('productions').where({ id }).delete();
}

const FIRST_VERSION = { song: 'Main mix', show: 'The show' } as const;

/**
 * Adds a production at the end, with a first version to capture into. Made from a scene, that begins with a copy of it.
 * @throws Fault `not-found`, `refused-input` for a desk that is not there, or a scene of another desk model
 */
export async function insertProduction(
  db: Database,
  { deskId, fromSceneId, ...words }: NewProduction,
): Promise<string> {
  const [id, versionId] = [newId(), newId()];
  if (!(await db('desks').where({ id: deskId }).first('id')))
    throw new Fault('refused-input', 'There is no such desk.', 'Choose one from the list of desks.', 'deskId');
  await inTransaction(db, async (tx) => {
    await addProduction(tx, { id, deskId, ...words });
    const first = { id: versionId, production_id: id, name: FIRST_VERSION[words.kind], from_scene_id: fromSceneId };
    await addVersion(tx, first);
    if (fromSceneId === null) return;
    const { kind, name } = await sceneRow(tx, fromSceneId);
    await insertCopy(tx, newId(), fromSceneId, { versionId, name: kind === 'scene' ? name : words.name });
  });
  return id;
}

/** @throws Fault `not-found`, `conflict` where someone else changed it since */
export async function editProduction(db: Database, id: string, { revision, ...edit }: ProductionEdit): Promise<void> {
  const changed = await db('productions')
    .where({ id, revision })
    .update({ ...edit, revision: revision + 1 });
  if (changed === 0) throw editConflict((await productionRow(db, id)).name);
}

/** @throws Fault `protected` while a scene of it is */
export async function assertUnprotected(db: Database, id: string): Promise<void> {
  const safe = await db('scenes')
    .where({ production_id: id, protected: 1 })
    .whereNull('binned_at')
    .first('number', 'name');
  if (safe) throw protectedFault(safe);
}

/** Puts a production into the bin, or brings it back. @throws Fault `not-found`, `protected` while a scene of it is */
export async function binProduction(db: Database, id: string, bin: boolean): Promise<void> {
  await productionRow(db, id);
  if (bin) await assertUnprotected(db, id);
  await db('productions')
    .where({ id })
    .update({ binned_at: bin ? new Date() : null, revision: db.raw('revision + 1') });
}

/** Removes a production that is in the bin for good, with everything in it. @throws Fault `not-found`, `conflict` */
export async function removeProduction(db: Database, id: string): Promise<void> {
  const row = await productionRow(db, id);
  if (!row.binned_at) throw new Fault('conflict', `${row.name} is not in the bin.`, 'Move it to the bin first.');
  const scenes = await db('scenes').where({ production_id: id }).pluck('id');
  await removeScenes(db, await profileOfProduction(db, id), scenes);
  await inTransaction(db, (tx) => deleteProduction(tx, id));
}

/** The desk a production is made on, or undefined. */
export const deskOfProduction = async (db: Database, productionId: string): Promise<string | undefined> =>
  (await db('productions').where({ id: productionId }).first('desk_id'))?.desk_id;

/** @throws Fault `refused-input` for a production of another desk */
export async function assertProductionOnDesk(db: Database, deskId: string, productionId: string): Promise<void> {
  if ((await deskOfProduction(db, productionId)) !== deskId)
    throw new Fault(
      'refused-input',
      'This song or show is on another desk.',
      'Choose a song or show of this desk.',
      'versionId',
    );
}

/** The kind of desk a production is made on. @throws Fault `not-found` */
export async function profileOfProduction(db: Database, productionId: string): Promise<Profile> {
  const { desk_id } = await productionRow(db, productionId);
  const { profile_id } = found(await db('desks').where({ id: desk_id }).first('profile_id'));
  return readStoredProfile(db, profile_id);
}
