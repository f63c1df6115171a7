import { deflateSync, inflateSync } from 'node:zlib';

import { LRUCache } from 'lru-cache';

import { stripFingerprint, stripFingerprints } from '@old-echo/core/desk/fingerprint';
import type { State, StripState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import type { EncodedStrip, EncodedStrips, StripBefore } from '@old-echo/core/scenes/plan-scene';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { fromJson, type JsonText, toJson } from '../database/json-column';
import type { SceneStripRow, StripStateRow } from '../database/tables';

/** Rows read or written with one statement. */
const BATCH = 1000;

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

/** What a blob says, or undefined where it cannot be read. */
function readable<T>(read: () => T): T | undefined {
  try {
    return read();
  } catch {
    return undefined;
  }
}

/** Strip states by their ids, as they are stored; one that cannot be read is missing. */
export async function loadDeltaStates(db: Database, ids: Iterable<number>): Promise<Map<number, DeltaEncodedState>> {
  const rows = await rowsById(db, new Set(ids));
  const known = new Set(rows.map((row) => row.id));
  const missing = rows.flatMap(({ base_id }) => (base_id === null || known.has(base_id) ? [] : base_id));
  const wholes = new Map<number, JsonText<StripState> | undefined>();
  for (const row of [...rows, ...(await rowsById(db, new Set(missing)))])
    if (row.base_id === null)
      wholes.set(
        row.id,
        readable(() => inflated(row.content)),
      );
  return new Map(
    rows.flatMap(({ id, base_id, content }): [number, DeltaEncodedState][] => {
      const base = base_id ?? id;
      const whole = wholes.get(base);
      const moved = base_id === null ? {} : readable(() => fromJson(textOf(content)));
      return whole !== undefined && moved ? [[id, { base, whole, moved }]] : [];
    }),
  );
}

/** Strip states by their ids, whole; one that cannot be read is missing. */
export async function loadStates(db: Database, ids: Iterable<number>): Promise<Map<number, StripState>> {
  const told = await loadDeltaStates(db, ids);
  // Reading the JSON once more is quicker than copying an object of so many settings.
  return new Map(
    [...told].flatMap(([id, { whole, moved }]): [number, StripState][] => {
      const settings = readable(() => Object.assign(fromJson(whole), moved));
      return settings ? [[id, settings]] : [];
    }),
  );
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

/** The strips of a scene. */
export const stripsOf = (db: Database, sceneId: string) =>
  db('scene_strips').join('scenes', 'scenes.seq', 'scene_strips.scene_seq').where('scenes.id', sceneId);

/** What is planned of a scene's strips, and what they are kept under. */
export interface StripsOfScene {
  readonly seq: number;
  readonly plan: EncodedStrips;
}

/**
 * Stores what is planned of the strips of scenes; a strip state that is known already is only pointed at, once it is sure that it reads
 * back. Call inside the transaction that makes the scenes.
 * @param held the ids of states that this transaction holds already, by their fingerprints; those of these scenes are added
 */
export async function storeStrips(
  db: Database,
  scenes: readonly StripsOfScene[],
  held = new Map<string, number>(),
): Promise<void> {
  const encoded = new Map(scenes.flatMap(({ plan }) => [...plan.encoded]));
  for (const [print, id] of await holdStates(db, encoded, held)) held.set(print, id);
  // In the order of the key, so that the pages of the table fill up.
  const rows = scenes.flatMap(({ seq, plan }) =>
    [...plan.fingerprints]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([strip, print]) => ({ scene_seq: seq, strip, strip_state_id: held.get(print) })),
  );
  for (let i = 0; i < rows.length; i += BATCH) await db('scene_strips').insert(rows.slice(i, i + BATCH));
}

/** Has strip states stored and held until the transaction ends; the ids of those that were not held before. */
async function holdStates(
  db: Database,
  encoded: EncodedStrips['encoded'],
  held: ReadonlyMap<string, number>,
): Promise<ReadonlyMap<string, number>> {
  const all = [...encoded.keys()].filter((print) => !held.has(print));
  if (all.length === 0) return new Map();
  const insertMissing = async (known: ReadonlyMap<string, number>) => {
    const states = [...encoded.values()].filter(({ fingerprint: print }) => !known.has(print) && !held.has(print));
    if (states.length > 0) await insertStates(db, states);
  };
  const stored = await idsOf(db, all);
  await repairDamaged(db, encoded, stored);
  await insertMissing(stored);
  // A locking read sees what others have stored or removed since this transaction began, and holds it until the scene
  // points there, so that a removal does not take it for unused.
  const ids = await idsOf(db, all, 'held');
  if (ids.size < all.length) {
    await insertMissing(ids);
    for (const [print, id] of await idsOf(db, all, 'held')) ids.set(print, id);
  }
  return ids;
}

async function idsOf(db: Database, prints: readonly string[], held?: 'held'): Promise<Map<string, number>> {
  const query = db('strip_states').whereIn('fingerprint', prints.map(toBytes)).select('id', 'fingerprint');
  const rows = await (held ? query.forShare() : query);
  return new Map(rows.map((row) => [row.fingerprint.toString('hex'), row.id]));
}

/** Stores new strip states, in one order everywhere, so that two captures never wait for one another. */
async function insertStates(db: Database, states: readonly EncodedStrip[]): Promise<void> {
  const rows = states
    .map(({ fingerprint, base, settings }) => ({
      fingerprint: toBytes(fingerprint),
      base_id: base,
      content: base === null ? deflateSync(JSON.stringify(settings)) : Buffer.from(JSON.stringify(settings)),
    }))
    .sort((a, b) => Buffer.compare(a.fingerprint, b.fingerprint));
  for (let i = 0; i < rows.length; i += BATCH)
    await db('strip_states')
      .insert(rows.slice(i, i + BATCH))
      .onConflict('fingerprint')
      .ignore();
}

/** Writes anew what of some stored states was damaged: what is captured now has the very fingerprints that they are to have. */
async function repairDamaged(
  db: Database,
  encoded: EncodedStrips['encoded'],
  stored: ReadonlyMap<string, number>,
): Promise<void> {
  const unsure = [...stored].filter(([print]) => !proven.has(print));
  for (const { id, print } of await damagedOf(
    db,
    unsure.map(([print, id]) => ({ id, print })),
  )) {
    const { base, settings } = found(encoded.get(print));
    const whole = base === null ? settings : { ...found((await loadStates(db, [base])).get(base)), ...settings };
    await db('strip_states')
      .where({ id })
      .update({ base_id: null, content: deflateSync(JSON.stringify(whole)) });
  }
}

/** A strip of a scene with its state, and the whole state that this is told from where it is not whole itself. */
interface StripWithBase {
  readonly strip: string;
  readonly id: number;
  readonly content: Buffer;
  readonly base_id: number | null;
  readonly base_content: Buffer | null;
  readonly own_print: Buffer;
  readonly base_print: Buffer | null;
}

/** A strip as it was captured, or undefined where it was changed in the database: nothing new is told from that. */
function beforeOf(row: StripWithBase): StripBefore | undefined {
  const { id, content, base_id, base_content, own_print, base_print } = row;
  const isPrint = (settings: StripState, print: Buffer) => stripFingerprint(settings) === print.toString('hex');
  return readable(() => {
    const base = fromJson(inflated(base_content ?? content));
    const settings = base_content === null ? base : { ...base, ...fromJson(textOf(content)) };
    const isWhole = isPrint(settings, own_print) && (base_print === null || isPrint(base, base_print));
    return isWhole ? { settings, base: { id: base_id ?? id, settings: base } } : undefined;
  });
}

/** Strips of a scene, held until the transaction ends so that no removal takes away what new states are told from. */
async function heldStrips(of: ReturnType<typeof stripsOf>): Promise<Map<string, StripBefore>> {
  const rows = await of
    .join('strip_states as own', 'own.id', 'scene_strips.strip_state_id')
    .leftJoin('strip_states as base', 'base.id', 'own.base_id')
    .select<StripWithBase[]>('strip', 'own.id', 'own.content', 'own.base_id', {
      base_content: 'base.content',
      own_print: 'own.fingerprint',
      base_print: 'base.fingerprint',
    })
    .forShare();
  const held = new Map<string, StripBefore>();
  for (const row of rows) {
    const before = beforeOf(row);
    if (before) held.set(row.strip, before);
  }
  return held;
}

/** Some strips of a scene, with what new states of them can be told from. Call inside the transaction that stores those. */
export const holdStrips = (
  tx: Database,
  sceneId: string,
  strips: readonly string[],
): Promise<Map<string, StripBefore>> => heldStrips(stripsOf(tx, sceneId).whereIn('strip', strips));

/** {@link holdStrips} for those strips of a state that are other ones in a scene. */
export async function holdDiffering(tx: Database, sceneId: string, state: State): Promise<Map<string, StripBefore>> {
  const same = Object.entries(stripFingerprints(state)).map(([strip, print]) => [strip, toBytes(print)]);
  if (same.length === 0) return new Map();
  return heldStrips(
    stripsOf(tx, sceneId).whereIn('strip', Object.keys(state)).whereNotIn(['strip', 'own.fingerprint'], same),
  );
}

/** Lets a scene be what another is. */
export const copyStrips = (db: Database, seq: number, fromSceneId: string): Promise<unknown> =>
  db.raw(
    `INSERT INTO scene_strips SELECT ?, strip, strip_state_id
       FROM scene_strips JOIN scenes ON scenes.seq = scene_strips.scene_seq WHERE scenes.id = ?`,
    [seq, fromSceneId],
  );

/** Lets a scene hold other states of some strips than those it was made with. Call inside the transaction that makes it. */
export async function replaceStrips(db: Database, seq: number, plan: EncodedStrips): Promise<void> {
  if (plan.fingerprints.size === 0) return;
  await db('scene_strips')
    .where({ scene_seq: seq })
    .whereIn('strip', [...plan.fingerprints.keys()])
    .delete();
  await storeStrips(db, [{ seq, plan }]);
}

type StripRow = Pick<SceneStripRow, 'strip' | 'strip_state_id'> & Pick<StripStateRow, 'fingerprint'>;

/** Strip states that were read and are what their fingerprints say; none of them is ever changed. */
const verified = new LRUCache<string, StripState>({ max: 5000 });
/** Fingerprints of strip states that were read back at least once, of which many more fit. */
const proven = new LRUCache<string, true>({ max: 100_000 });

function forget(print: string): void {
  verified.delete(print);
  proven.delete(print);
}

export interface StoredStrip {
  readonly id: number;
  readonly print: string;
}

/** The next stored states in the order of their ids. */
export const stripsAfter = async (db: Database, id: number, limit: number): Promise<StoredStrip[]> =>
  (await db('strip_states').where('id', '>', id).orderBy('id').limit(limit).select('id', 'fingerprint')).map(
    ({ id, fingerprint }) => ({ id, print: fingerprint.toString('hex') }),
  );

/** Those of some stored states that do not read back as what their fingerprints say. */
export async function damagedOf(db: Database, rows: readonly StoredStrip[]): Promise<StoredStrip[]> {
  const states = await loadStates(
    db,
    rows.map(({ id }) => id),
  );
  return rows.filter(({ id, print }) => {
    const state = states.get(id);
    const isWhole = state !== undefined && stripFingerprint(state) === print;
    if (isWhole) proven.set(print, true);
    else forget(print);
    return !isWhole;
  });
}

/**
 * Strip states by their ids.
 * @throws Fault `damaged` where one is not what its fingerprint says
 */
export async function loadVerified(
  db: Database,
  rows: readonly (StoredStrip & { readonly strip?: string })[],
): Promise<Map<number, StripState>> {
  const states = await loadStates(
    db,
    rows.map(({ id }) => id),
  );
  for (const { id, print, strip } of rows) {
    const state = states.get(id);
    if (!state || stripFingerprint(state) !== print) {
      // The next capture of the same looks for itself.
      forget(print);
      throw new Fault(
        'damaged',
        `What was saved of ${strip ?? 'a strip'} is not what was captured: it was changed in the database.`,
        'Nothing was sent. Choose another scene, or put a backup back.',
        strip,
      );
    }
    proven.set(print, true);
  }
  return states;
}

/** Strips as they were captured. @throws Fault `damaged` */
export async function statesOf(db: Database, rows: readonly StripRow[]): Promise<State> {
  const wanted = rows.map(({ strip, strip_state_id: id, fingerprint }) => ({
    strip,
    id,
    print: fingerprint.toString('hex'),
  }));
  const unread = wanted.filter(({ print }) => !verified.has(print));
  const read = await loadVerified(db, unread);
  for (const { id, print } of unread) verified.set(print, Object.freeze(read.get(id) ?? {}));
  const now = new Map(unread.map(({ id, print }) => [print, read.get(id)]));
  return Object.fromEntries(wanted.map(({ strip, print }) => [strip, now.get(print) ?? verified.get(print) ?? {}]));
}

/** Deletes the strip states among `ids` that no scene is made of and no other state is told from. */
export async function deleteUnusedStrips(tx: Database, ids: readonly number[]): Promise<void> {
  for (let i = 0; i < ids.length; i += BATCH)
    await tx('strip_states')
      .whereIn('id', ids.slice(i, i + BATCH))
      .whereNotExists((used) =>
        used.from('scene_strips').whereRaw('scene_strips.strip_state_id = strip_states.id').select(tx.raw('1')),
      )
      .whereNotExists((told) =>
        told.from('strip_states as others').whereRaw('others.base_id = strip_states.id').select(tx.raw('1')),
      )
      .delete();
}
