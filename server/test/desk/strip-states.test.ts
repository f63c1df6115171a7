import { deflateSync } from 'node:zlib';

import fc from 'fast-check';
import type { Logger } from 'pino';
import { ulid } from 'ulid';

import { stripFingerprints } from '@old-echo/core/desk/fingerprint';
import { defaultState, type State, withSettings } from '@old-echo/core/desk/state';
import { boathouse } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import type { Database } from '../../src/database/connect';
import { found } from '../../src/database/found';
import { countChanges, fingerprintsOf, loadState, loadStrips } from '../../src/desk/scene-states';
import { holdDiffering, holdStrips } from '../../src/desk/strip-states';
import { StripScrub } from '../../src/scenes/scrub-strips';
import { bareDatabase } from '../bare-database';

jest.setTimeout(120_000);

const database = `strips_${ulid().toLowerCase()}`;
const plain = defaultState(boathouse);
let db: Database;
let scene: Awaited<ReturnType<typeof bareDatabase>>['scene'];
let number = 0;

beforeAll(async () => {
  ({ db, scene } = await bareDatabase(database));
});
afterAll(async () => {
  await db.raw('DROP DATABASE ??', [database]);
  await db.destroy();
});

const capture = async (state: State, parent?: string): Promise<string> =>
  (await scene(`Scene ${number++}`, state, { parents: parent === undefined ? [] : [parent] })).id;
const rows = async () => Number(found(await db('strip_states').count({ n: '*' }).first()).n);
/** A boathouse with some settings moved that nobody moved before. */
let fresh = 0;
const moved = (strip: string, more: Readonly<Record<string, number>> = {}): State =>
  withSettings(plain, { [`${strip}/label/name`]: `Own ${fresh++}`, ...more });

test('a line of scenes reads back as it was captured, whatever each is told from', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(anySettings(boathouse, 30), { minLength: 2, maxLength: 6 }), async (line) => {
      const states = line.map((settings) => withSettings(plain, settings));
      const ids: string[] = [];
      for (const state of states) ids.push(await capture(state, ids.at(-1)));
      for (const [i, id] of ids.entries()) {
        const state = await loadState(db, id);
        expect(stripFingerprints(state)).toEqual(stripFingerprints(found(states[i])));
        expect(Object.fromEntries(await fingerprintsOf(db, id))).toEqual(stripFingerprints(state));
      }
    }),
    { numRuns: runs(60) / 4 },
  );
});

test('what was changed in the database is named, and never taken for what was captured', async () => {
  const [state, other] = [moved('in.3', { 'in.3/fader/level': -6 }), moved('in.3')];
  const [id, untouched] = [await capture(state), await capture(other)];
  const spoil = async (content: Buffer) => {
    const print = Buffer.from(found(stripFingerprints(state)['in.3']), 'hex');
    await db('strip_states').where({ fingerprint: print }).update({ content });
  };
  await spoil(deflateSync(JSON.stringify({ ...state['in.3'], 'fader/level': 10 })));
  for (const read of [() => loadState(db, id), () => loadStrips(db, id, ['in.3'])])
    await expect(read()).rejects.toMatchObject({ code: 'damaged', where: 'in.3' });
  await expect(countChanges(db, boathouse, id, untouched)).rejects.toMatchObject({ code: 'damaged' });
  expect(stripFingerprints(await loadState(db, untouched))).toEqual(stripFingerprints(other));
  // Nor is anything told from it.
  const next = withSettings(state, { 'in.3/fader/level': -7, 'in.3/label/name': 'Next' });
  expect(stripFingerprints(await loadState(db, await capture(next, id)))).toEqual(stripFingerprints(next));
  await spoil(deflateSync(JSON.stringify(state['in.3'])));
  expect(stripFingerprints(await loadState(db, id))).toEqual(stripFingerprints(state));
});

test('what is damaged is found by looking through all of it, named, and whole again once the same is captured anew', async () => {
  const whole = moved('in.5', { 'in.5/fader/level': -9 });
  const id = await capture(whole);
  const delta = withSettings(whole, { 'in.5/fader/level': -8 });
  const other = await capture(delta, id);
  const log = { error: jest.fn() };
  const scrub = new StripScrub(db, log as unknown as Logger);
  const round = async () => {
    let damaged = 0;
    for (let i = 0; i < (await rows()) / 100; i++) damaged += await scrub.step();
    return damaged;
  };
  expect(await round()).toBe(0);
  const spoil = (state: State, content: Buffer) =>
    db('strip_states')
      .where({ fingerprint: Buffer.from(found(stripFingerprints(state)['in.5']), 'hex') })
      .update({ content });
  for (const [content, ids] of [
    // Other settings than were captured, and nothing that can be read at all: with it goes what is told from it.
    [deflateSync(JSON.stringify({ ...whole['in.5'], 'fader/level': 10 })), [id]],
    [Buffer.from('noise'), [id, other]],
    [deflateSync('null'), [id, other]],
  ] as const) {
    await spoil(whole, content);
    expect(await round()).toBe(ids.length);
    expect(JSON.stringify(log.error.mock.lastCall)).toMatch(/Scene \d+, in\.5/);
    for (const one of ids) await expect(loadState(db, one)).rejects.toMatchObject({ code: 'damaged', where: 'in.5' });
    // What comes from it is captured as ever.
    const next = withSettings(whole, { 'in.5/fader/level': content.length });
    expect(stripFingerprints(await loadState(db, await capture(next, id)))).toEqual(stripFingerprints(next));
    await capture(whole);
    expect(stripFingerprints(await loadState(db, id))).toEqual(stripFingerprints(whole));
    expect(stripFingerprints(await loadState(db, other))).toEqual(stripFingerprints(delta));
    expect(await round()).toBe(0);
  }
  // What is a delta is written whole.
  await spoil(delta, Buffer.from('{}'));
  expect(await round()).toBe(1);
  await capture(delta, id);
  expect(stripFingerprints(await loadState(db, other))).toEqual(stripFingerprints(delta));
});

test('what is told from another is told from a whole one: no chain is longer than one step', async () => {
  let before = await capture(moved('in.1'));
  for (let i = 0; i < 4; i++) before = await capture(moved('in.1', { 'in.1/fader/level': -i - 1 }), before);
  const chained = await db('strip_states as one')
    .join('strip_states as base', 'base.id', 'one.base_id')
    .whereNotNull('base.base_id')
    .count({ n: '*' })
    .first<{ n: number }>();
  expect(chained.n).toBe(0);
});

test('a scene of which one strip moved adds one state, and the same scene again adds none', async () => {
  const first = await capture(plain);
  const before = await rows();
  const second = await capture(moved('in.3'), first);
  expect((await rows()) - before).toBe(1);
  await capture(await loadState(db, second), second);
  expect((await rows()) - before).toBe(1);
});

test('the same states captured many times at once are stored once, and every capture succeeds', async () => {
  const parent = await capture(plain);
  const before = await rows();
  const states = [moved('in.4'), moved('in.5'), moved('in.6')];
  const ids = await Promise.all(Array.from({ length: 12 }, (_, i) => capture(found(states[i % 3]), parent)));
  expect((await rows()) - before).toBe(3);
  for (const [i, id] of ids.entries())
    expect(stripFingerprints(await loadState(db, id))).toEqual(stripFingerprints(found(states[i % 3])));
});

describe('what a new scene is told from', () => {
  test('only strips that differ are read, with their settings as they were', async () => {
    const state = moved('in.7', { 'in.8/fader/level': -8 });
    const id = await capture(state);
    const now = withSettings(state, { 'in.8/fader/level': -3 });
    const differing = await db.transaction((tx) => holdDiffering(tx, id, now));
    expect([...differing.keys()]).toEqual(['in.8']);
    expect(differing.get('in.8')?.settings).toEqual(state['in.8']);
  });

  test('strips that the state does not hold are left alone: a part of a desk is no change of the rest', async () => {
    const id = await capture(plain);
    const part = { 'in.1': { ...plain['in.1'], 'fader/level': -2 } };
    const differing = await db.transaction((tx) => holdDiffering(tx, id, part));
    expect([...differing.keys()]).toEqual(['in.1']);
    expect(await db.transaction((tx) => holdDiffering(tx, id, {}))).toEqual(new Map());
  });

  test('what is held is a delta with the whole one that it was told from', async () => {
    const first = await capture(plain);
    const second = await capture(withSettings(plain, { 'in.2/fader/level': -31.5 }), first);
    const held = await db.transaction((tx) => holdStrips(tx, second, ['in.2']));
    expect(held.get('in.2')?.settings['fader/level']).toBe(-31.5);
    expect(held.get('in.2')?.base.settings).toEqual(plain['in.2']);
  });
});

test('of a scene some strips are read, and those it does not hold are missing', async () => {
  const id = await capture({ 'in.1': plain['in.1'] ?? {}, 'in.2': plain['in.2'] ?? {} });
  expect(Object.keys(await loadStrips(db, id, ['in.2', 'in.9']))).toEqual(['in.2']);
});

test('how far two scenes are apart is counted in settings and strips, both ways alike', async () => {
  const state = withSettings(plain, { 'in.1/fader/level': -4, 'in.1/pan/position': 12, 'in.2/fader/level': -6 });
  const [one, other] = [await capture(plain), await capture(state)];
  expect(await countChanges(db, boathouse, one, other)).toEqual({ settings: 3, strips: 2 });
  expect(await countChanges(db, boathouse, other, one)).toEqual({ settings: 3, strips: 2 });
  expect(await countChanges(db, boathouse, one, one)).toEqual({ settings: 0, strips: 0 });
});
