import type { SceneFilter, SceneNeighbours, ScenePage, ScenePageRequest } from '@old-echo/core/contracts/scene';

import type { Database } from '../database/connect';
import { countRows } from '../database/count-rows';
import type { SceneRow } from '../database/tables';
import { sceneViews } from './scene-store';

/** What a search looks at. */
const SEARCH_TEXT = `CONCAT_WS('\n', scenes.number, scenes.name, scenes.note, scenes.milestone, scenes.changed_strip_names)`;

/** A word as LIKE finds it anywhere; `%` and `_` mean themselves. */
const anywhere = (word: string): string => `%${word.replace(/[\\%_]/g, '\\$&')}%`;

/** The scenes of a production that a filter lets through. */
function filtered(db: Database, productionId: string, filter: SceneFilter, binned: readonly string[]) {
  const query = db('scenes').where('scenes.production_id', productionId);
  if (filter.bin) void query.whereNotNull('scenes.binned_at');
  else void query.whereNull('scenes.binned_at');
  if (!filter.bin && binned.length > 0) void query.whereNotIn('scenes.version_id', [...binned]);
  if (filter.versionId) void query.where('scenes.version_id', filter.versionId);
  if (filter.ownOnly) void query.where('scenes.kind', 'scene');
  if (filter.milestone) void query.where('scenes.milestone', '<>', '');
  if (filter.from) void query.where('scenes.made_at', '>=', new Date(filter.from));
  if (filter.until) void query.where('scenes.made_at', '<', new Date(filter.until));
  const { tag, strip } = filter;
  if (tag !== undefined)
    void query.whereExists((tags) =>
      tags.from('scene_tags').whereRaw('scene_tags.scene_id = scenes.id').where({ tag }).select(db.raw('1')),
    );
  if (strip !== undefined)
    void query.whereExists((moves) =>
      moves
        .from('scene_changed_strips')
        .whereRaw('scene_changed_strips.scene_seq = scenes.seq')
        .where({ strip })
        .select(db.raw('1')),
    );
  for (const word of filter.search?.split(/\s+/).filter(Boolean) ?? [])
    void query.where((either) =>
      either
        .whereRaw(`${SEARCH_TEXT} LIKE ?`, [anywhere(word)])
        .orWhereExists((tags) =>
          tags
            .from('scene_tags')
            .whereRaw('scene_tags.scene_id = scenes.id')
            .where('tag', 'like', anywhere(word))
            .select(db.raw('1')),
        ),
    );
  return query;
}

const binnedVersions = (db: Database, productionId: string): Promise<string[]> =>
  db('versions').where({ production_id: productionId }).whereNotNull('binned_at').pluck('id');

/** What people captured before and after a scene in its production; nothing that is in the bin. */
export async function sceneNeighbours(db: Database, scene: SceneRow): Promise<SceneNeighbours> {
  const binned = await binnedVersions(db, scene.production_id);
  const nearest = (side: '<' | '>') =>
    filtered(db, scene.production_id, { ownOnly: true }, binned)
      .where('scenes.ordinal', side, scene.ordinal)
      .orderBy('scenes.ordinal', side === '<' ? 'desc' : 'asc')
      .first<SceneRow | undefined>('scenes.*');
  const [earlier, later] = await Promise.all([nearest('<'), nearest('>')]);
  const view = async (row: SceneRow | undefined) => (row && (await sceneViews(db, [row]))[0]) ?? null;
  return { earlier: await view(earlier), later: await view(later) };
}

/** One page of the scenes of a production, the newest first. */
export async function scenePage(
  db: Database,
  productionId: string,
  { before, limit, ...filter }: ScenePageRequest,
): Promise<ScenePage> {
  const binned = await binnedVersions(db, productionId);
  const all = () => filtered(db, productionId, filter, binned);
  const page = all()
    .orderBy('scenes.ordinal', 'desc')
    .limit(limit + 1)
    .select<SceneRow[]>('scenes.*');
  if (before !== undefined) void page.where('scenes.ordinal', '<', before);
  const [rows, total] = await Promise.all([page, countRows(all())]);
  return {
    scenes: await sceneViews(db, rows.slice(0, limit)),
    total,
    more: rows.length > limit,
  };
}
