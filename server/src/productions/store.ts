import { Fault } from '@old-echo/core/contracts/fault';
import type { ProductionView, VersionView } from '@old-echo/core/contracts/scene';

import type { Database } from '../database/connect';

interface ProductionRow {
  readonly id: string;
  readonly name: string;
  readonly kind: ProductionView['kind'];
  readonly note: string;
  readonly desk_id: string;
}

interface VersionRow {
  readonly id: string;
  readonly name: string;
  readonly production_id: string;
  readonly from_scene_id: string | null;
}

/** Every production with its versions, in order. */
export async function productionViews(db: Database): Promise<ProductionView[]> {
  const [productions, versions] = await Promise.all([
    db<ProductionRow>('productions').orderBy('place'),
    db<VersionRow>('versions').orderBy('place'),
  ]);
  return productions.map((row) => ({
    id: row.id,
    name: row.name,
    kind: row.kind,
    note: row.note,
    deskId: row.desk_id,
    versions: versions
      .filter((v) => v.production_id === row.id)
      .map((v): VersionView => ({ id: v.id, name: v.name, fromSceneId: v.from_scene_id })),
  }));
}

/** The production a version belongs to. @throws Fault `not-found` */
export async function productionOfVersion(db: Database, versionId: string): Promise<{ id: string; deskId: string }> {
  const row = (await db('versions')
    .join('productions', 'productions.id', 'versions.production_id')
    .where('versions.id', versionId)
    .first('productions.id', { deskId: 'desk_id' })) as { id: string; deskId: string } | undefined;
  if (!row)
    throw new Fault('not-found', 'There is no such version.', 'Choose a version of the production and try again.');
  return row;
}

/** The desk a production is made on, or undefined. */
export const deskOfProduction = async (db: Database, productionId: string): Promise<string | undefined> =>
  ((await db('productions').where({ id: productionId }).first('desk_id')) as { desk_id: string } | undefined)?.desk_id;
