import { deflateSync, inflateSync } from 'node:zlib';

import type { ChangeCount } from '@old-echo/core/contracts/scene';
import { countStrips, diffStates, type SettingChange } from '@old-echo/core/desk/diff-states';
import { stripFingerprint } from '@old-echo/core/desk/fingerprint';
import type { Profile } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import type { State, StripState } from '@old-echo/core/desk/state';

import type { Database } from '../database/connect';
import { fromJson, type JsonText, toJson } from '../database/json-column';
import type { SceneStripRow, StripStateRow } from '../database/tables';

/** Rows read or written with one statement. */
const BATCH = 1000;
/** A state that differs from its base in more settings than this is stored whole. */
const MAX_DELTA_SETTINGS = 24;

const toBytes = (print: string): Buffer => Buffer.from(print, 'hex');

/** A strip state as stored: whole, or a delta on a whole one. */
export interface DeltaEncodedState {
  /** The id of the state it is a delta on; its own where it is stored whole. */
  readonly base: number;
  /** That state as JSON. */
  readonly whole: JsonText<StripState>;
  readonly moved: StripState;
}

type StateRow = Pick<StripStateRow, 'id' | 'base_id' | 'content'>;

/** A blob of `strip_states`, whole or a delta, as the JSON it is. */
const textOf = (content: Buffer) => content.toString('utf8') as JsonText<StripState>;
const inflated = (content: Buffer) => textOf(inflateSync(content));
/** A strip with no settings. */
export const NO_SETTINGS: JsonText<StripState> = toJson({});

/** Strip states by their ids, as they are stored. */
export async function loadDeltaStates(db: Database, ids: Iterable<number>): Promise<Map<number, DeltaEncodedState>> {
  const rows = await rowsById(db, new Set(ids));
  const known = new Set(rows.map((row) => row.id));
  const missing = rows.flatMap(({ base_id }) => (base_id === null || known.has(base_id) ? [] : base_id));
  const wholes = new Map<number, JsonText<StripState>>();
  for (const row of [...rows, ...(await rowsById(db, new Set(missing)))])
    if (row.base_id === null) wholes.set(row.id, inflated(row.content));
  return new Map(
    rows.map(({ id, base_id, content }): [number, DeltaEncodedState] => {
      const base = base_id ?? id;
      const moved = base_id === null ? {} : fromJson(textOf(content));
      return [id, { base, whole: wholes.get(base) ?? NO_SETTINGS, moved }];
    }),
  );
}

/** Strip states by their ids, whole. */
export async function loadStates(db: Database, ids: Iterable<number>): Promise<Map<number, StripState>> {
  const told = await loadDeltaStates(db, ids);
  // Reading the JSON once more is quicker than copying an object of so many settings.
  return new Map([...told].map(([id, { whole, moved }]) => [id, Object.assign(fromJson(whole), moved)]));
}

async function rowsById(db: Database, ids: ReadonlySet<number>): Promise<StateRow[]> {
  const all = [...ids];
  const rows: StateRow[] = [];
  for (let i = 0; i < all.length; i += BATCH)
    rows.push(
      ...(await db('strip_states')
        .whereIn('id', all.slice(i, i + BATCH))
        .select('id', 'base_id', 'content')),
    );
  return rows;
}

const stripsOf = (db: Database, sceneId: string) =>
  db('scene_strips').join('scenes', 'scenes.seq', 'scene_strips.scene_seq').where('scenes.id', sceneId);

/**
 * Stores every strip of a scene; a strip state that is known already is only pointed at, and a new one that differs in a few
 * settings from that of the scene before is told by those.
 * Call inside the transaction that makes the scene.
 */
export async function storeStrips(db: Database, seq: number, state: State, before: string | undefined): Promise<void> {
  const printOf = new Map(Object.entries(state).map(([strip, settings]) => [strip, stripFingerprint(settings)]));
  const stripOf = new Map([...printOf].map(([strip, print]) => [print, strip]));
  const all = [...stripOf.keys()];
  const insertMissing = async (known: ReadonlyMap<string, number>) => {
    const strips = all.flatMap((print) => (known.has(print) ? [] : (stripOf.get(print) ?? [])));
    if (strips.length > 0) await insertStates(db, state, strips, before);
  };
  await insertMissing(await idsOf(db, all));
  // A locking read sees what others have stored or removed since this transaction began, and holds it until the scene
  // points there, so that a removal does not take it for unused.
  const ids = await idsOf(db, all, 'held');
  if (ids.size < all.length) {
    await insertMissing(ids);
    for (const [print, id] of await idsOf(db, all, 'held')) ids.set(print, id);
  }
  // In the order of the key, so that the pages of the table fill up.
  await db('scene_strips').insert(
    [...printOf]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([strip, print]) => ({ scene_seq: seq, strip, strip_state_id: ids.get(print) })),
  );
}

async function idsOf(db: Database, prints: readonly string[], held?: 'held'): Promise<Map<string, number>> {
  const query = db('strip_states').whereIn('fingerprint', prints.map(toBytes)).select('id', 'fingerprint');
  const rows = await (held ? query.forShare() : query);
  return new Map(rows.map((row) => [row.fingerprint.toString('hex'), row.id]));
}

/** Stores new strip states, in one order everywhere, so that two captures never wait for one another. */
async function insertStates(
  db: Database,
  state: State,
  strips: readonly string[],
  before: string | undefined,
): Promise<void> {
  const bases = before === undefined ? new Map<string, Base>() : await basesOf(db, before, strips);
  const rows = strips
    .map((strip) => {
      const settings = state[strip] ?? {};
      const base = bases.get(strip);
      const moved = base && deltaFrom(base.settings, settings);
      return {
        fingerprint: toBytes(stripFingerprint(settings)),
        base_id: moved ? base.id : null,
        content: moved ? Buffer.from(JSON.stringify(moved)) : deflateSync(JSON.stringify(settings)),
      };
    })
    .sort((a, b) => Buffer.compare(a.fingerprint, b.fingerprint));
  for (let i = 0; i < rows.length; i += BATCH)
    await db('strip_states')
      .insert(rows.slice(i, i + BATCH))
      .onConflict('fingerprint')
      .ignore();
}

interface Base {
  readonly id: number;
  readonly settings: StripState;
}

/** What the strips of a scene are told from, held until the transaction ends so that no removal takes it away. */
async function basesOf(db: Database, sceneId: string, strips: readonly string[]): Promise<Map<string, Base>> {
  const rows = await stripsOf(db, sceneId)
    .join('strip_states as own', 'own.id', 'scene_strips.strip_state_id')
    .leftJoin('strip_states as base', 'base.id', 'own.base_id')
    .whereIn('strip', strips)
    .select<{ strip: string; id: number; content: Buffer }[]>(
      'strip',
      db.raw('COALESCE(base.id, own.id) AS id'),
      db.raw('COALESCE(base.content, own.content) AS content'),
    )
    .forShare();
  return new Map(rows.map(({ strip, id, content }) => [strip, { id, settings: fromJson(inflated(content)) }]));
}

/** The settings in which a state differs from its base, or undefined where it is better stored whole. */
function deltaFrom(base: StripState, settings: StripState): StripState | undefined {
  const keys = Object.keys(settings);
  if (keys.length !== Object.keys(base).length) return undefined;
  const moved: Record<string, Value> = {};
  for (const key of keys) {
    const [was, now] = [base[key], settings[key]];
    if (was === undefined || now === undefined) return undefined;
    if (was !== now && JSON.stringify(was) !== JSON.stringify(now)) moved[key] = now;
  }
  return Object.keys(moved).length <= MAX_DELTA_SETTINGS ? moved : undefined;
}

/** Lets a scene be what another is. */
export const copyStrips = (db: Database, seq: number, fromSceneId: string): Promise<unknown> =>
  db.raw(
    `INSERT INTO scene_strips SELECT ?, strip, strip_state_id
       FROM scene_strips JOIN scenes ON scenes.seq = scene_strips.scene_seq WHERE scenes.id = ?`,
    [seq, fromSceneId],
  );

/** Lets a scene hold other states of some strips than those it was made with. Call inside the transaction that makes it. */
export async function replaceStrips(db: Database, seq: number, strips: State, before: string): Promise<void> {
  const names = Object.keys(strips);
  if (names.length === 0) return;
  await db('scene_strips').where({ scene_seq: seq }).whereIn('strip', names).delete();
  await storeStrips(db, seq, strips, before);
}

type StripRow = Pick<SceneStripRow, 'strip' | 'strip_state_id'>;

async function statesOf(db: Database, rows: readonly StripRow[]): Promise<State> {
  const states = await loadStates(
    db,
    rows.map((row) => row.strip_state_id),
  );
  return Object.fromEntries(rows.map((row) => [row.strip, states.get(row.strip_state_id) ?? {}]));
}

/** The whole state of a scene. */
export const loadState = async (db: Database, sceneId: string): Promise<State> =>
  statesOf(db, await stripsOf(db, sceneId).select('strip', 'strip_state_id'));

/** Some strips of a scene; those it does not hold are missing. */
export const loadStrips = async (db: Database, sceneId: string, strips: readonly string[]): Promise<State> =>
  statesOf(db, await stripsOf(db, sceneId).whereIn('strip', strips).select('strip', 'strip_state_id'));

/** The fingerprints of a scene's strips, by strip. */
export async function fingerprintsOf(db: Database, sceneId: string): Promise<Map<string, string>> {
  const rows = await stripsOf(db, sceneId)
    .join('strip_states', 'strip_states.id', 'scene_strips.strip_state_id')
    .select('strip', 'fingerprint');
  return new Map(rows.map((row) => [row.strip, row.fingerprint.toString('hex')]));
}

/** Every setting that differs between a stored scene and a state; only strips whose fingerprints differ are read. */
export async function changesSince(
  db: Database,
  profile: Profile,
  sceneId: string,
  state: State,
): Promise<SettingChange[]> {
  const differing = [...(await fingerprintsOf(db, sceneId))]
    .filter(([strip, print]) => {
      const settings = state[strip];
      return settings && stripFingerprint(settings) !== print;
    })
    .map(([strip]) => strip);
  if (differing.length === 0) return [];
  const before = await stripsOf(db, sceneId).whereIn('strip', differing).select('strip', 'strip_state_id');
  return diffStates(profile, await statesOf(db, before), state);
}

/** How far two stored scenes are from one another. */
export async function countChanges(db: Database, profile: Profile, a: string, b: string): Promise<ChangeCount> {
  const rows = await db('scene_strips as one')
    .join('scenes as first', 'first.seq', 'one.scene_seq')
    .join('scene_strips as two', 'two.strip', 'one.strip')
    .join('scenes as second', 'second.seq', 'two.scene_seq')
    .where({ 'first.id': a, 'second.id': b })
    .whereRaw('one.strip_state_id <> two.strip_state_id')
    .select<{ strip: string; was: number; now: number }[]>('one.strip', {
      was: 'one.strip_state_id',
      now: 'two.strip_state_id',
    });
  const side = (which: 'was' | 'now') =>
    statesOf(
      db,
      rows.map((row) => ({ strip: row.strip, strip_state_id: row[which] })),
    );
  const changes = diffStates(profile, await side('was'), await side('now'));
  return { settings: changes.length, strips: countStrips(changes) };
}
