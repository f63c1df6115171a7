import { familyOf } from '@old-echo/core/desk/address';
import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import {
  compareProfiles,
  type ProfileChange,
  type ProfileChangeView,
  unfitting,
} from '@old-echo/core/desk/profile-change';
import type { State } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';
import { fromJson } from '../database/json-column';
import type { SceneStripRow } from '../database/tables';
import { inTransaction } from '../database/transaction';
import { changedProfile, desksOfModel } from './change-profile';
import { readStoredProfile } from './profile-store';
import type { ServerContext } from './server-context';
import { loadDeltaStates } from './strip-states';

/** Rows read or written with one statement. */
const BATCH = 1000;

/**
 * What it would mean if a model of desk were another. Looks at every strip state that its scenes hold and that may not fit any more.
 * @throws Fault `not-found`, `refused-input` with the path of the first thing that is wrong
 */
export async function previewProfileChange(
  { db, desks }: Pick<ServerContext, 'db' | 'desks'>,
  id: string,
  source: unknown,
): Promise<ProfileChangeView> {
  const before = await readStoredProfile(db, id);
  const after = changedProfile(id, source);
  const change = compareProfiles(before, after);
  const { aside, losing } = await lossesOf(db, after, change, concernedStrips(before, change));
  const [counted] = await scenesOf(db, id).count<{ n: number }[]>({ n: '*' });
  const concerned = await desksOfModel(db, id).orderBy('place').select('id', 'name');
  return {
    ...change,
    desks: concerned.map(({ name }) => name),
    beyond: concerned.flatMap(({ id: desk, name }) => beyondIn(after, change, desks.of(desk).state, name)),
    scenes: counted?.n ?? 0,
    losing,
    aside,
    presets: await losingPresets(db, after),
  };
}

/** What a desk holds of settings that are there before and after, and that the model would not take. */
function beyondIn(
  after: Profile,
  { otherRanges }: ProfileChange,
  state: State,
  desk: string,
): ProfileChangeView['beyond'] {
  const ranges = new Set(otherRanges.map(({ family, key }) => `${family} ${key}`));
  return Object.entries(state).flatMap(([strip, settings]) =>
    unfitting(after, strip, settings)
      .filter((key) => stripFamily(after, strip) && ranges.has(`${familyOf(strip)} ${key}`))
      .map((key) => ({ desk, address: `${strip}/${key}` })),
  );
}

const scenesOf = (db: Database, profileId: string) =>
  db('scenes')
    .join('productions', 'productions.id', 'scenes.production_id')
    .join('desks', 'desks.id', 'productions.desk_id')
    .where('desks.profile_id', profileId)
    .whereNull('scenes.binned_at')
    .whereNull('productions.binned_at');

/** The strips of which something may not fit any more, by their families; those that go are apart. */
function concernedStrips(
  { families }: Profile,
  { goneStrips, goneSettings, otherRanges }: ProfileChange,
): readonly (readonly string[])[] {
  const gone = new Set(goneStrips);
  const concerned = new Set([...goneSettings, ...otherRanges].map(({ family }) => family));
  return families.flatMap(({ id, strips }) => {
    const staying = strips.filter((strip) => !gone.has(strip));
    return concerned.has(id) && staying.length > 0 ? [staying] : [];
  });
}

/** Looked at in the database as far as can be: ten thousand scenes hold a million strips. */
const lossesOf = (
  db: Database,
  after: Profile,
  { goneStrips }: ProfileChange,
  families: readonly (readonly string[])[],
): Promise<Pick<ProfileChangeView, 'aside' | 'losing'>> =>
  inTransaction(db, async (tx) => {
    const held = (strips: readonly string[]) =>
      scenesOf(tx, after.id)
        .join('scene_strips', 'scene_strips.scene_seq', 'scenes.seq')
        .whereIn('strip', strips)
        .distinct('strip', 'strip_state_id');
    await tx.raw(`CREATE TEMPORARY TABLE losing_strips AS ${held(goneStrips).toQuery()}`);
    try {
      const aside: { family: string; key: string; strips: number }[] = [];
      for (const strips of families) {
        const lost = await lostIn(tx, after, await held(strips));
        await tx.batchInsert('losing_strips', lost.rows, BATCH);
        const family = familyOf(strips[0] ?? '');
        for (const [key, those] of lost.stripsOf) aside.push({ family, key, strips: those.size });
      }
      await tx.raw('ALTER TABLE losing_strips ADD INDEX (strip_state_id)');
      const [counted] = await scenesOf(tx, after.id)
        .join('scene_strips', 'scene_strips.scene_seq', 'scenes.seq')
        .join('losing_strips as losing', (on) =>
          on.on('losing.strip_state_id', 'scene_strips.strip_state_id').andOn('losing.strip', 'scene_strips.strip'),
        )
        .countDistinct<{ n: number }[]>({ n: 'scenes.seq' });
      return { aside, losing: counted?.n ?? 0 };
    } finally {
      await tx.raw('DROP TEMPORARY TABLE losing_strips');
    }
  });

type HeldStrip = Pick<SceneStripRow, 'strip' | 'strip_state_id'>;

/** Those of some strips of one family of which something would be set aside, and on which strips each setting would. */
async function lostIn(
  tx: Database,
  after: Profile,
  held: readonly HeldStrip[],
): Promise<{ readonly rows: readonly HeldStrip[]; readonly stripsOf: ReadonlyMap<string, ReadonlySet<string>> }> {
  const strip = held[0]?.strip ?? '';
  const ids = [...new Set(held.map(({ strip_state_id }) => strip_state_id))];
  const [ofBases, without] = [new Map<number, string[]>(), new Map<number, string[]>()];
  for (let i = 0; i < ids.length; i += BATCH)
    for (const [id, { base, whole, moved }] of await loadDeltaStates(tx, ids.slice(i, i + BATCH))) {
      const ofBase = ofBases.get(base) ?? unfitting(after, strip, fromJson(whole));
      ofBases.set(base, ofBase);
      const keys = [...ofBase.filter((key) => !(key in moved)), ...unfitting(after, strip, moved)];
      if (keys.length > 0) without.set(id, keys);
    }
  const rows = held.filter(({ strip_state_id }) => without.has(strip_state_id));
  const stripsOf = new Map<string, Set<string>>();
  for (const row of rows)
    for (const key of without.get(row.strip_state_id) ?? [])
      stripsOf.set(key, (stripsOf.get(key) ?? new Set()).add(row.strip));
  return { rows, stripsOf };
}

/** Presets of a model of which something would be set aside. */
async function losingPresets(db: Database, after: Profile): Promise<string[]> {
  const presets = await db('presets')
    .join('preset_editions', (on) =>
      on.on('preset_editions.preset_id', 'presets.id').andOn('preset_editions.edition', 'presets.edition'),
    )
    .where({ profile_id: after.id })
    .whereNull('binned_at')
    .orderBy('name')
    .select('name', 'content');
  return presets.flatMap(({ name, content }) =>
    Object.entries(fromJson(content)).some(([strip, settings]) => unfitting(after, strip, settings).length > 0)
      ? [name]
      : [],
  );
}
