import type { Database } from '../database/connect';

/** The songs and shows that some ids are of, or that something they name is in: a version, a scene, a mix note, a scene in the making. */
export async function productionsOf(db: Database, ids: readonly string[]): Promise<string[]> {
  if (ids.length === 0) return [];
  const found: readonly string[][] = await Promise.all([
    db('productions').whereIn('id', ids).pluck('id'),
    db('versions').whereIn('id', ids).pluck('production_id'),
    db('scenes').whereIn('id', ids).pluck('production_id'),
    db('mix_notes').join('versions', 'versions.id', 'version_id').whereIn('mix_notes.id', ids).pluck('production_id'),
    db('combinations').join('scenes', 'scenes.id', 'base_id').whereIn('combinations.id', ids).pluck('production_id'),
  ]);
  return [...new Set(found.flat())];
}
