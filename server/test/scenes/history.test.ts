import fc from 'fast-check';
import { ulid } from 'ulid';

import type { ProductionView } from '@old-echo/core/contracts/production';
import type { ScenePage, SceneView } from '@old-echo/core/contracts/scene';
import { countStrips, diffStates } from '@old-echo/core/desk/diff-states';
import { stripFingerprint } from '@old-echo/core/desk/fingerprint';
import type { State } from '@old-echo/core/desk/state';
import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import type { StripHistory } from '@old-echo/core/scenes/strip-history';
import { boathouse } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';

import { type Database } from '../../src/database/connect';
import { toJson } from '../../src/database/json-column';
import { countChanges, loadState } from '../../src/desk/scene-states';
import { holdDiffering } from '../../src/desk/strip-states';
import { emptyBin, removeScenes } from '../../src/scenes/delete-scenes';
import { type NewScene } from '../../src/scenes/insert-scene';
import { pruneAutosaves } from '../../src/scenes/prune-autosaves';
import { binScene } from '../../src/scenes/scene-bin';
import { verifyStorage } from '../../src/scenes/verify-storage';
import { bareDatabase } from '../bare-database';
import { differing, flat, Rig, until } from '../server-rig';

jest.setTimeout(120_000);

const HOUR = 3_600_000;

describe('the store', () => {
  let db: Database;
  let ids: { desk: string; production: string; version: string };
  let scene: Awaited<ReturnType<typeof bareDatabase>>['scene'];
  const database = `store_${ulid().toLowerCase()}`;
  beforeAll(async () => {
    ({ db, ids, scene } = await bareDatabase(database));
  });
  afterAll(async () => {
    await db.raw('DROP DATABASE ??', [database]);
    await db.destroy();
  });

  test('under any captures and removals every scene reads back exactly as captured, and nothing is left over', async () => {
    let n = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.oneof(
            { weight: 3, arbitrary: fc.record({ moves: anySettings(boathouse, 6), from: fc.nat(30) }) },
            { weight: 1, arbitrary: fc.record({ remove: fc.nat(30) }) },
          ),
          { minLength: 4, maxLength: 14 },
        ),
        async (steps) => {
          const there: { id: string; state: State }[] = [];
          for (const step of steps) {
            const at = there[('from' in step ? step.from : step.remove) % Math.max(1, there.length)];
            if ('remove' in step) {
              if (!at) continue;
              await removeScenes(db, boathouse, [at.id]);
              there.splice(there.indexOf(at), 1);
            } else {
              const state = withSettings(at?.state ?? defaultState(boathouse), step.moves);
              const { id, changed } = await scene(`Scene ${++n}`, state, { parents: at ? [at.id] : [] });
              const changes = at ? diffStates(boathouse, at.state, state) : [];
              expect(changed).toEqual({ settings: changes.length, strips: countStrips(changes) });
              there.push({ id, state });
            }
          }
          for (const { id, state } of there) expect(await loadState(db, id)).toEqual(state);
          const check = await verifyStorage(db);
          const prints = there.flatMap(({ state }) => Object.values(state).map(stripFingerprint));
          expect(check).toMatchObject({ scenes: there.length, orphans: 0, incomplete: [], spoiled: 0 });
          // A state that others are told from stays with them.
          expect(check.stripStates).toBeGreaterThanOrEqual(new Set(prints).size);
          await removeScenes(
            db,
            boathouse,
            there.map(({ id }) => id),
          );
          expect(await verifyStorage(db)).toMatchObject({ scenes: 0, stripStates: 0 });
        },
      ),
      { numRuns: 20 },
    );
  });

  test('captures and removals at the same moment lose nothing and leave nothing over', async () => {
    const start = defaultState(boathouse);
    const at = (level: number) => withSettings(start, { 'in.1/fader/level': level });
    const doomed = await Promise.all([-1, -2, -3, -4].map((level, i) => scene(`Doomed ${i}`, at(level))));
    const [fresh] = await Promise.all([
      Promise.all([-1, -2, -3, -4, -5].map((level, i) => scene(`Fresh ${i}`, at(level)))),
      ...doomed.map(({ id }) => removeScenes(db, boathouse, [id])),
    ]);
    for (const [i, { id }] of fresh.entries()) expect(await loadState(db, id)).toEqual(at(-1 - i));
    expect(await verifyStorage(db)).toMatchObject({ scenes: 5, orphans: 0, incomplete: [], spoiled: 0 });
    await removeScenes(
      db,
      boathouse,
      fresh.map(({ id }) => id),
    );
  });

  test('the check finds what was left over, what is missing, and what was altered', async () => {
    const { id } = await scene('Whole', defaultState(boathouse));
    await scene('Other', withSettings(defaultState(boathouse), { 'in.1/fader/level': -3 }));
    const { seq, number } = (await db('scenes').where({ id }).first('seq', 'number'))!;
    await db('scene_strips').where({ scene_seq: seq, strip: 'in.1' }).delete();
    expect(await verifyStorage(db)).toMatchObject({ orphans: 1, incomplete: [number] });
    await db('strip_states')
      .orderBy('id')
      .limit(1)
      .update({ content: Buffer.from('spoiled') });
    expect((await verifyStorage(db)).spoiled).toBe(1);
    await db('scenes').delete();
    await db('strip_states').delete();
  });

  test('whoever came from a removed scene comes from its parent, and says anew how far it is', async () => {
    const states = [-1, -2, -3].map((level, i) =>
      withSettings(defaultState(boathouse), { 'in.1/fader/level': level, [`in.${i + 2}/pan/position`]: 10 }),
    );
    const line: SceneView[] = [];
    for (const [i, state] of states.entries())
      line.push(await scene(`Line ${i}`, state, { parents: line.slice(-1).map(({ id }) => id) }));
    await binScene(db, line[1]!.id);
    await emptyBin(db, boathouse, ids.production, line[1]!.id);
    expect(await db('scene_parents').where({ scene_id: line[2]!.id }).pluck('parent_id')).toEqual([line[0]!.id]);
    expect(await db('scenes').where({ id: line[2]!.id }).first('changed_settings', 'changed_strips')).toEqual({
      changed_settings: 3,
      changed_strips: 3,
    });
    expect(await countChanges(db, boathouse, line[0]!.id, line[2]!.id)).toEqual({ settings: 3, strips: 3 });
    const differing = await db.transaction((tx) => holdDiffering(tx, line[0]!.id, states[2]!));
    expect([...differing.values()].map(({ settings }) => settings)).toHaveLength(3);
    await removeScenes(db, boathouse, [line[0]!.id, line[2]!.id]);
  });

  test('what was kept by itself is thinned out; what anyone leans on stays', async () => {
    const now = new Date();
    const state = defaultState(boathouse);
    const kept = (hoursAgo: number, more: Partial<NewScene> = {}) =>
      scene(`Kept ${hoursAgo}`, state, { kind: 'rested', madeAt: new Date(now.getTime() - hoursAgo * HOUR), ...more });
    const old = 40 * 24;
    const [gone, stone, tagged, protectedOne, isAtHand, parent, standing, flipped, wayBack] = await Promise.all([
      kept(old),
      kept(old, { milestone: 'soundcheck' }),
      kept(old, { tags: ['good'] }),
      kept(old),
      kept(old),
      kept(old),
      kept(old),
      kept(old),
      kept(old, { kind: 'way back' }),
    ]);
    const child = await scene('Child', state, { parents: [parent.id] });
    const named = await scene('Named', state, { madeAt: new Date(now.getTime() - old * HOUR) });
    await db('scenes').where({ id: protectedOne.id }).update({ protected: true });
    await db('scenes_at_hand').insert({ desk_id: ids.desk, scene_id: isAtHand.id, place: 0 });
    await db('desks').update({ current_scene_id: standing.id, swap_scene_id: flipped.id });
    const journal = {
      request: toJson({ recall: {} }),
      way_back_scope: toJson([]),
      journal: toJson({ changes: [], guarded: [] }),
      changes: 0,
      status: 'confirmed' as const,
    };
    const restore = { desk_id: ids.desk, scene_id: named.id, way_back_id: wayBack.id, started_at: now };
    await db('restores').insert({ id: ulid(), ...restore, ...journal });
    expect(await pruneAutosaves(db, boathouse, ids.production, now)).toBe(1);
    const left = await db('scenes').pluck('id');
    const stay = [stone, tagged, protectedOne, isAtHand, parent, standing, flipped, wayBack, child, named].map(
      ({ id }) => id,
    );
    expect([left.includes(gone.id), stay.filter((id) => !left.includes(id))]).toEqual([false, []]);
    // A newer restore has its own way back; the older one is still in the log.
    await db('restores').insert({
      id: ulid(),
      ...restore,
      way_back_id: null,
      started_at: new Date(now.getTime() + 1),
      ...journal,
    });
    expect(await pruneAutosaves(db, boathouse, ids.production, now)).toBe(0);
    await db('restores').delete();
    expect(await pruneAutosaves(db, boathouse, ids.production, now)).toBe(1);
  });
});

test('a full database says so in a sentence, keeps what it has, and has written nothing of what failed', async () => {
  const database = `small_${ulid().toLowerCase()}`;
  const { db, scene } = await bareDatabase(database, 'OLD_ECHO_FULL_DISK_DB');
  try {
    const words = (n: number) =>
      Array.from({ length: 90 }, (_, i) => String.fromCharCode(33 + ((i * 7919 + n * 104729) % 90))).join('');
    let n = 0;
    const full = async () => {
      for (; n < 2000; n++) {
        const notes = Object.fromEntries(
          boathouse.strips.flatMap((strip, i) =>
            boathouse.plainNames[strip] ? [[`${strip}/label/note`, words(n * 97 + i)]] : [],
          ),
        );
        await scene(`Scene ${n}`, withSettings(defaultState(boathouse), notes));
      }
    };
    await expect(full()).rejects.toMatchObject({ code: expect.stringMatching(/FULL|WRITE/) as string });
    console.log(`the small database was full after ${n} scenes`);
    expect(n).toBeGreaterThan(0);
    expect(await verifyStorage(db)).toMatchObject({ scenes: n, orphans: 0, incomplete: [], spoiled: 0 });
  } finally {
    await db.raw('DROP DATABASE ??', [database]);
    await db.destroy();
  }
});

describe('over the API', () => {
  let rig: Rig;
  beforeAll(async () => {
    rig = await Rig.open({ OLD_ECHO_AUTOSAVE_IDLE: '0.3' });
  });
  afterAll(() => rig.close());

  const list = async (query = '') =>
    (await rig.get<ScenePage>(`/productions/${rig.production.id}/scenes?ownOnly=true&${query}`)).body;
  const names = async (query = '') => (await list(query)).scenes.map((scene) => scene.name);
  const production = async () =>
    (await rig.get<ProductionView[]>('/productions')).body.find((p) => p.id === rig.production.id)!;
  const fresh = async (id: string) => (await rig.get<SceneView>(`/scenes/${id}`)).body;
  const patch = async (id: string, edit: object) =>
    rig.call<SceneView>('PATCH', `/scenes/${id}`, { ...edit, revision: (await fresh(id)).revision });

  test('pages follow one another without a gap, and the count is of all', async () => {
    const all = await list('limit=200');
    const pages: string[] = [];
    for (let before = '', more = true; more;) {
      const page = await list(`limit=3${before}`);
      expect(page.total).toBe(all.scenes.length);
      pages.push(...page.scenes.map(({ id }) => id));
      before = `&before=${page.scenes.at(-1)?.number}`;
      more = page.more;
    }
    expect(pages).toEqual(all.scenes.map(({ id }) => id));
  });

  test('search finds names, notes, tags, milestones and the strips that moved, and takes % for itself', async () => {
    rig.front.hands({ 'in.4/eq/2/gain': 4.5 });
    const { body } = await rig.capture('Searched for');
    await patch(body.id, { tags: ['rehearsal', 'Windy'], note: 'Keep 10% more air', milestone: 'soundcheck done' });
    const strip = flat(await rig.stateOf(body.id))['in.4/label/name'];
    for (const search of ['searched', 'WINDY', '10%', 'soundcheck done', String(strip), `searched ${String(strip)}`])
      expect(await names(`search=${encodeURIComponent(search)}`)).toContain('Searched for');
    expect(await names('search=100%25_')).toEqual([]);
    expect(await names('tag=windy')).toEqual(['Searched for']);
    expect(await names('strip=in.4')).toContain('Searched for');
    expect(await names('strip=in.30')).not.toContain('Searched for');
    expect(await names('milestone=true')).toContain('Searched for');
    expect(await names(`from=${new Date(Date.now() - 60_000).toISOString()}`)).toEqual(['Searched for']);
    expect((await production()).tags).toEqual(expect.arrayContaining(['rehearsal', 'Windy']));
  });

  test.each(['from=yesterday', 'limit=0', 'limit=9999', 'before=x', 'colour=red', `search=${'x'.repeat(201)}`])(
    'a list asked for with %s is refused with what is wrong',
    async (query) => {
      const { status, body } = await rig.get<{ where?: string }>(`/productions/${rig.production.id}/scenes?${query}`);
      expect([status, body.where]).toEqual([422, query.split('=')[0]]);
    },
  );

  test('a binned scene is gone from the list, frees its name, and comes back with a number behind it', async () => {
    const { body: first, status } = await rig.capture('Twice');
    expect([status, first]).toEqual([201, expect.objectContaining({ name: 'Twice' })]);
    expect((await rig.post<SceneView>(`/scenes/${first.id}/bin`, {})).body.binnedAt).not.toBeNull();
    expect(await names('search=twice')).toEqual([]);
    expect(await names('bin=true')).toEqual(['Twice']);
    expect((await production()).binned).toBe(1);
    expect((await rig.capture('Twice')).status).toBe(201);
    expect((await rig.post<SceneView>(`/scenes/${first.id}/unbin`, {})).body.name).toBe('Twice 2');
    await rig.post(`/scenes/${first.id}/bin`, {});
    expect((await rig.call('DELETE', `/scenes/${first.id}`)).status).toBe(200);
    expect((await rig.call<{ title: string }>('DELETE', `/scenes/${first.id}`)).status).toBe(404);
  });

  test('replaced by what stands on the desk: its words and its pin stay, the old one is in the bin', async () => {
    const { body: old } = await rig.capture('To be replaced');
    await patch(old.id, { note: 'as agreed', tags: ['agreed'] });
    await rig.call('PUT', `/desks/${rig.desk.id}/at-hand`, { ids: [old.id] });
    rig.front.hands({ 'in.7/fader/level': -22 });
    const { revision } = await fresh(old.id);
    const replace = (body: object) =>
      rig.post<SceneView>(`/desks/${rig.desk.id}/scene-replacements`, { sceneId: old.id, ...body });
    expect((await replace({ revision: revision - 1 })).status).toBe(409);
    const { body } = await replace({ revision });
    expect(body).toMatchObject({
      name: 'To be replaced',
      note: 'as agreed',
      tags: ['agreed'],
      parents: [old.id],
      changed: { settings: 1, strips: 1 },
    });
    expect((await fresh(old.id)).binnedAt).not.toBeNull();
    await rig.linked();
    expect([rig.desk.scene?.id, rig.desk.atHand.map(({ id }) => id)]).toEqual([body.id, [body.id]]);
    expect(flat(await rig.stateOf(body.id))['in.7/fader/level']).toBe(-22);
    expect(flat(await rig.stateOf(old.id))['in.7/fader/level']).not.toBe(-22);
  });

  test('a protected scene can be neither replaced nor binned, nor can its version or its production', async () => {
    const { body } = await rig.capture('Untouchable');
    const [demos] = (await list('search=soundcheck')).scenes.filter((scene) => scene.protected);
    await patch(demos!.id, { protected: false });
    const { revision } = (await patch(body.id, { protected: true })).body;
    const tries = [
      rig.post<{ title: string }>(`/scenes/${body.id}/bin`, {}),
      rig.post<{ title: string }>(`/desks/${rig.desk.id}/scene-replacements`, { sceneId: body.id, revision }),
      rig.post<{ title: string }>(`/productions/${rig.production.id}/bin`, {}),
    ];
    for (const { status, body: problem } of await Promise.all(tries))
      expect([status, problem.title]).toEqual([409, `${body.number} Untouchable is protected.`]);
    await patch(body.id, { protected: false });
    expect((await rig.post(`/scenes/${body.id}/bin`, {})).status).toBe(200);
  });

  test('a version made from a scene begins with it, goes to the bin with its scenes, and comes back', async () => {
    const from = await rig.scene('Low tide');
    const make = (name: string) =>
      rig.post<{ id: string }>(`/productions/${rig.production.id}/versions`, { name, fromSceneId: from.id });
    const { id } = (await make('Instrumental')).body;
    expect((await make('instrumental')).status).toBe(409);
    const [first] = (await list(`versionId=${id}`)).scenes;
    expect(first).toMatchObject({ name: 'Low tide', parents: [from.id], changed: { settings: 0, strips: 0 } });
    expect(await rig.stateOf(first!.id)).toEqual(await rig.stateOf(from.id));
    const view = async () => (await production()).versions.find((v) => v.id === id);
    expect(await view()).toMatchObject({
      fromPlace: from.place,
      newestSceneId: first!.id,
      scenes: 1,
      status: 'working',
    });
    const edit = (revision: number) =>
      rig.call('PATCH', `/versions/${id}`, { status: 'sent', note: 'to the band', revision });
    expect([(await edit(1)).status, (await edit(1)).status]).toEqual([200, 409]);
    await rig.post(`/versions/${id}/bin`, {});
    expect([await view(), (await list(`versionId=${id}`)).total]).toEqual([undefined, 0]);
    expect((await rig.post<{ title: string }>(`/scenes/${first!.id}/unbin`, {})).body.title).toMatch(
      /Instrumental, is in the bin/,
    );
    await rig.post(`/versions/${id}/unbin`, {});
    expect(await view()).toMatchObject({ name: 'Instrumental', status: 'sent', note: 'to the band' });
    // The last version of a production stays.
    await rig.post(`/versions/${id}/bin`, {});
    const last = await rig.post<{ title: string }>(`/versions/${rig.production.versions[0]!.id}/bin`, {});
    expect([last.status, last.body.title]).toEqual([409, 'The show is the only version.']);
    await rig.call('DELETE', `/versions/${id}`);
    expect(((await fresh(first!.id)) as unknown as { status: number }).status).toBe(404);
  });

  test('a scene moves and is copied between versions; on another kind of desk it is refused', async () => {
    const { id: otherId } = (
      await rig.post<{ id: string }>('/productions', { deskId: rig.desk.id, name: 'Second night', kind: 'show' })
    ).body;
    const productions = (await rig.get<ProductionView[]>('/productions')).body;
    const other = productions.find((p) => p.id === otherId)!;
    expect(other.versions.map(({ name }) => name)).toEqual(['The show']);
    const scene = (await rig.capture('Travels')).body;
    const target = { versionId: other.versions[0]!.id };
    const copy = (await rig.post<SceneView>(`/scenes/${scene.id}/copy`, target)).body;
    expect(copy).toMatchObject({ productionId: otherId, number: 1, name: 'Travels', parents: [scene.id] });
    expect((await rig.post<SceneView>(`/scenes/${scene.id}/move`, target)).body).toMatchObject({
      productionId: otherId,
      number: 2,
      name: 'Travels 2',
    });
    expect(await rig.stateOf(copy.id)).toEqual(await rig.stateOf(scene.id));
    const strange = productions.find((p) => p.deskId !== rig.desk.id)!.versions[0]!.id;
    for (const how of ['copy', 'move'])
      expect((await rig.post(`/scenes/${scene.id}/${how}`, { versionId: strange })).status).toBe(422);
    const order = [otherId, rig.production.id];
    await rig.post('/productions/order', { ids: order });
    expect((await rig.get<ProductionView[]>('/productions')).body.slice(0, 2).map(({ id }) => id)).toEqual(order);
    await rig.post('/productions/order', { ids: [rig.production.id] });
    await rig.post(`/productions/${otherId}/bin`, {});
    expect((await rig.call('DELETE', `/productions/${otherId}`)).status).toBe(200);
    expect((await rig.get<ProductionView[]>('/productions')).body.some((p) => p.id === otherId)).toBe(false);
  });

  test('a strip’s past tells every moment it moved, and where it had stood', async () => {
    const version = rig.production.versions[0]!.id;
    for (const level of [-11, -12, -12, -13]) {
      rig.front.hands({ 'in.20/fader/level': level });
      await rig.capture(`At ${level} ${ulid()}`);
    }
    const { body } = await rig.get<StripHistory>(`/versions/${version}/strip-history?strip=in.20`);
    expect(body.moments.slice(-3).map(({ moved }) => moved)).toEqual(
      [-11, -12, -13].map((level) => ({ 'fader/level': level })),
    );
    expect(body.start['fader/level']).toBeDefined();
    expect((await rig.get(`/versions/${version}/strip-history?strip=in.99`)).status).toBe(422);
  });

  test('scenes at hand: a handful, in an order of one’s own, of scenes that fit the desk', async () => {
    const two = (await list('limit=2')).scenes.map(({ id }) => id);
    const setScenesAtHand = (ids: string[]) => rig.call('PUT', `/desks/${rig.desk.id}/at-hand`, { ids });
    await setScenesAtHand([two[1]!, two[0]!]);
    await rig.linked();
    expect(rig.desk.atHand.map(({ id }) => id)).toEqual([two[1], two[0]]);
    expect([(await setScenesAtHand([two[0]!, two[0]!])).status, (await setScenesAtHand([ulid()])).status]).toEqual([
      422, 422,
    ]);
    await rig.linked();
    expect(rig.desk.atHand).toHaveLength(2);
  });

  test('a desk that drifted and rested is kept once, and so is one whose link ends', async () => {
    const kept = async (kind: string) => {
      const { scenes } = (await rig.get<ScenePage>(`/productions/${rig.production.id}/scenes?limit=200`)).body;
      return scenes.filter((scene) => scene.kind === kind);
    };
    await rig.capture('Before the rest');
    await new Promise((resolve) => setTimeout(resolve, 900));
    const before = (await kept('rested')).length;
    rig.front.hands({ 'in.9/fader/level': -41 });
    await until(async () => (await kept('rested')).length > before);
    await new Promise((resolve) => setTimeout(resolve, 900));
    const [rested] = await kept('rested');
    expect([rested?.name, (await kept('rested')).length - before]).toEqual(['Autosaved while idle', 1]);
    expect(differing(flat(await rig.stateOf(rested!.id)), rig.front.desk.settings())).toEqual([]);
    // The same again is not kept again; a restore keeps its own way back.
    rig.front.hands({ 'in.9/fader/level': -42 });
    const heard = async () => flat((await rig.get<State>(`/desks/${rig.desk.id}/state`)).body)['in.9/fader/level'];
    await until(async () => (await heard()) === -42);
    rig.front.freeze(true);
    await until(async () => (await kept('link ended')).length > 0);
    expect(flat(await rig.stateOf((await kept('link ended'))[0]!.id))['in.9/fader/level']).toBe(-42);
    const lost = await rig.capture('Into the dark');
    expect([lost.status, (await names('search=dark')).length]).toEqual([503, 0]);
    rig.front.freeze(false);
    await rig.linked();
    // Naming one makes it one's own.
    expect((await patch(rested!.id, { name: 'The quiet one' })).body.kind).toBe('scene');
    await rig.restore(rested!.id, ALL_EXCEPT_GLOBALS);
    expect((await kept('way back')).length).toBe(1);
  });

  test('what drifted while the desk was held is kept once it is free', async () => {
    const kept = async () =>
      (await rig.get<ScenePage>(`/productions/${rig.production.id}/scenes?limit=200`)).body.scenes;
    const levels = async () => {
      const rested = (await kept()).filter(({ kind }) => kind === 'rested');
      return Promise.all(rested.slice(0, 1).map(async ({ id }) => flat(await rig.stateOf(id))['in.9/fader/level']));
    };
    await rig.capture('Before it is held');
    const db = rig.admin();
    // Held as a restore holds it: not while somebody else does, an autosave of what was before for one.
    await until(async () => {
      const [held] = (await db.raw(
        'UPDATE ??.desks SET lease_holder_id = ?, lease_until = UTC_TIMESTAMP(3) + INTERVAL 1 HOUR WHERE id = ? AND lease_until IS NULL',
        [rig.database, ulid(), rig.desk.id],
      )) as [{ affectedRows: number }];
      return held.affectedRows === 1;
    });
    rig.front.hands({ 'in.9/fader/level': -47 });
    await new Promise((resolve) => setTimeout(resolve, 900));
    expect(await levels()).not.toEqual([-47]);
    await db.raw('UPDATE ??.desks SET lease_holder_id = NULL, lease_until = NULL WHERE id = ?', [
      rig.database,
      rig.desk.id,
    ]);
    await db.destroy();
    await until(async () => (await levels())[0] === -47);
  });

  test('a frozen desk in the middle of a capture: a sentence, and nothing half-written', async () => {
    const before = (await list()).total;
    rig.front.hands({ 'in.3/fader/level': -3.5 });
    const capturing = rig.capture('Cut off');
    rig.front.freeze(true);
    const { status, body } = await capturing;
    // The desk may just have answered in full before it froze.
    if (status !== 201) {
      expect([status, (body as unknown as { title: string }).title]).toEqual([503, 'Quay 48 stopped answering.']);
      expect((await list()).total).toBe(before);
    }
    rig.front.freeze(false);
    await rig.linked();
    const storage = (await rig.get<{ orphans: number; incomplete: unknown[] }>('/storage-check')).body;
    expect(storage).toMatchObject({ orphans: 0, incomplete: [], spoiled: 0 });
  });

  test('an open page hears of changed productions whatever desk it follows', async () => {
    const page = await rig.page();
    await rig.post('/productions', { deskId: rig.desk.id, name: 'Third night', kind: 'song', note: 'outdoors' });
    await until(() => page.told.some((m) => m.type === 'productions-changed'), 1000);
    page.close();
    const made = (await rig.get<ProductionView[]>('/productions')).body.at(-1)!;
    expect(made).toMatchObject({ name: 'Third night', note: 'outdoors', versions: [{ name: 'Main mix' }] });
    const edit = (revision: number) => rig.call('PATCH', `/productions/${made.id}`, { name: 'Fourth night', revision });
    expect([(await edit(1)).status, (await edit(1)).status]).toEqual([200, 409]);
    for (const wrong of [{ name: ' ' }, { name: 'x'.repeat(61) }, { kind: 'opera' }, { deskId: ulid() }])
      expect((await rig.post('/productions', { deskId: rig.desk.id, name: 'N', kind: 'song', ...wrong })).status).toBe(
        422,
      );
  });
});
