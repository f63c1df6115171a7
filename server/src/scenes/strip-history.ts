import type { Profile } from '@old-echo/core/desk/profile';
import type { StripState } from '@old-echo/core/desk/state';
import { type StripHistory, traceStrip } from '@old-echo/core/scenes/strip-history';

import type { Database } from '../database/connect';
import { fromJson } from '../database/json-column';
import type { SceneRow, SceneStripRow } from '../database/tables';
import { type DeltaEncodedState, loadDeltaStates, NO_SETTINGS } from '../desk/strip-states';

const NOWHERE: DeltaEncodedState = { base: 0, whole: NO_SETTINGS, moved: {} };

type Moment = Pick<SceneRow, 'id' | 'number' | 'name' | 'made_at'> & Pick<SceneStripRow, 'strip_state_id'>;

/** What became of one strip over a version's own scenes. Each different state of the strip is read once. */
export async function loadStripHistory(
  db: Database,
  profile: Profile,
  versionId: string,
  strip: string,
): Promise<StripHistory> {
  const rows = await db('scenes')
    .join('scene_strips', 'scene_strips.scene_seq', 'scenes.seq')
    .where({ version_id: versionId, kind: 'scene', strip })
    .whereNull('binned_at')
    .orderBy('ordinal')
    .select<Moment[]>('scenes.id', 'number', 'name', 'made_at', 'strip_state_id');
  const states = await loadDeltaStates(
    db,
    rows.map((row) => row.strip_state_id),
  );
  const found = rows.map((row) => states.get(row.strip_state_id) ?? NOWHERE);
  const wholes = new Map(found.map(({ base, whole }) => [base, whole]));
  const bases = new Map([...wholes].map(([base, whole]) => [base, fromJson(whole)]));
  return traceStrip(
    profile,
    strip,
    rows.map(({ id, number, name, made_at }) => ({ id, number: number ?? 0, name, madeAt: made_at.toISOString() })),
    // Only looked up by key here; copying the base ten thousand times would take seconds.
    found.map(({ base, moved }) => Object.assign(Object.create(bases.get(base) ?? null) as StripState, moved)),
    // Two states told from the same base differ in nothing but what either of them tells.
    (i) => {
      const [before, after] = [found[i - 1], found[i]];
      if (!before || !after || before.base !== after.base) return undefined;
      return [...Object.keys(before.moved), ...Object.keys(after.moved)];
    },
  );
}
