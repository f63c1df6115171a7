import type { DeskView } from '@old-echo/core/contracts/desk';
import type { SceneView } from '@old-echo/core/contracts/scene';

import { connect } from '../../src/database/connect';
import { ownDatabase } from '../own-database';
import { differing, flat, Rig, until } from '../server-rig';

jest.setTimeout(60_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const count = async (table: string): Promise<number> => {
  const db = rig.admin();
  const [rows] = (await db.raw('SELECT COUNT(*) AS n FROM ??.??', [rig.database, table])) as [{ n: number }[]];
  await db.destroy();
  return Number(rows[0]?.n);
};

describe('capture', () => {
  test('stores everything on the desk, globals too', async () => {
    const start = performance.now();
    const { status, body } = await rig.capture('All of it');
    console.log(`the whole Quay captured in ${Math.round(performance.now() - start)} ms`);
    expect(status).toBe(201);
    expect(differing(flat(await rig.stateOf(body.id)), rig.front.desk.settings())).toEqual([]);
    expect((await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body.scene?.name).toBe('All of it');
  });

  test('stores only the strips that moved, and says how far the scene is from the one before', async () => {
    const before = await count('strip_states');
    rig.front.hands({
      'in.1/fader/level': -1.5,
      'in.1/pan/position': 12,
      'in.2/fader/level': -2.2,
      'fx.2/inserts/time': 0.9,
    });
    const { body } = await rig.capture('Three strips moved');
    expect((await count('strip_states')) - before).toBe(3);
    expect(body.changed).toEqual({ settings: 4, strips: 3 });
    expect(body.parents).toEqual([(await rig.scene('All of it')).id]);
  });

  test('holds what the desk held, although hands move during the read', async () => {
    let moving = true;
    const hands = (async () => {
      for (let i = 0; moving; i++) {
        rig.front.hands({ [`in.${(i % 48) + 1}/fader/level`]: -(i % 60), 'in.5/label/note': `take ${i}` });
        await new Promise((resolve) => setTimeout(resolve, 3));
        if (i === 120) moving = false;
      }
    })();
    const [{ body }] = await Promise.all([rig.capture('Busy hands'), hands]);
    const stored = flat(await rig.stateOf(body.id));
    expect(Object.keys(stored).sort()).toEqual(Object.keys(rig.front.desk.settings()).sort());
    // What was not touched while hands moved is exactly what the desk holds.
    const touched = differing(stored, rig.front.desk.settings());
    expect(touched.filter((address) => !/^in\.\d+\/fader\/level$|^in\.5\/label\/note$/.test(address))).toEqual([]);
  });

  test.each([
    ['an empty name', { name: '  ' }, 422, 'name'],
    ['no version', { versionId: undefined }, 422, 'versionId'],
    ['a name that is too long', { name: 'x'.repeat(61) }, 422, 'name'],
    ['a name that is taken', { name: 'All of it' }, 409, 'name'],
    ['a field that nobody knows', { colour: 'red' }, 422, 'colour'],
  ])('refuses %s with problem details, and stores nothing', async (_, wrong, status, where) => {
    const before = await count('scenes');
    const versionId = rig.production.versions[0]!.id;
    const answer = await rig.post<{ type: string; title: string; detail: string; where?: string }>(
      `/desks/${rig.desk.id}/captures`,
      { versionId, name: 'New', ...wrong },
    );
    // RFC 9457: the media type, and its members.
    expect([answer.status, answer.type]).toEqual([status, 'application/problem+json; charset=utf-8']);
    expect(answer.body).toMatchObject({
      type: expect.stringMatching(/^urn:old-echo:/) as string,
      title: expect.any(String) as string,
      detail: expect.any(String) as string,
    });
    if (where) expect(answer.body.where).toBe(where);
    expect(await count('scenes')).toBe(before);
  });

  test('a version of another desk’s production is refused', async () => {
    const { body: productions } = await rig.get<{ deskId: string; versions: { id: string }[] }[]>('/productions');
    const other = productions.find((p) => p.deskId !== rig.desk.id)!;
    const answer = await rig.post<{ title: string }>(`/desks/${rig.desk.id}/captures`, {
      versionId: other.versions[0]!.id,
      name: 'Wrong desk',
    });
    expect([answer.status, answer.body.title]).toEqual([422, 'This song or show is on another desk.']);
  });
});

describe('a scene', () => {
  test('changed by two people: the second is told, and nothing is written over', async () => {
    const scene = await rig.scene('Low tide');
    const edit = (note: string) =>
      rig.call<SceneView>('PATCH', `/scenes/${scene.id}`, { note, revision: scene.revision });
    const [first, second] = [await edit('hers'), await edit('his')];
    expect([first.status, second.status]).toEqual([200, 409]);
    expect((await rig.get<SceneView>(`/scenes/${scene.id}`)).body.note).toBe('hers');
  });

  test('keeps the scope saved with it, and refuses rules that are none', async () => {
    const { id } = await rig.scene('Low tide');
    const revision = async () => (await rig.get<SceneView>(`/scenes/${id}`)).body.revision;
    const scope = [{ strips: ['in'], sections: ['fader'], include: true }];
    expect(
      (await rig.call<SceneView>('PATCH', `/scenes/${id}`, { scope, revision: await revision() })).body.scope,
    ).toEqual(scope);
    const wrong = await rig.call<{ where: string }>('PATCH', `/scenes/${id}`, {
      scope: [{ strips: 'in', include: 1 }],
      revision: await revision(),
    });
    expect(wrong.status).toBe(422);
    expect(wrong.body.where).toMatch(/^scope\[0\]/);
  });
});

describe('the server', () => {
  test.each([
    ['POST', '/desks/none/captures', '{"name": ', 422, 'What was sent is not readable JSON.'],
    ['GET', '/desks/none', undefined, 404, 'This desk no longer exists.'],
    ['GET', '/scenes/none', undefined, 404, 'This scene no longer exists.'],
    ['GET', '/restores/none', undefined, 404, 'This restore no longer exists.'],
    ['GET', '/profiles/none', undefined, 404, 'There is no desk model called none.'],
    ['GET', '/nowhere', undefined, 404, 'There is no such address.'],
  ])('%s %s with %s is %i: %s', async (method, path, body, status, title) => {
    const answer = await rig.call<{ title: string }>(method, path, body);
    expect([answer.status, answer.body.title]).toEqual([status, title]);
  });

  test('a setting the desk does not have, or a value it would refuse, moves nothing', async () => {
    const before = rig.front.desk.settings();
    for (const settings of [
      { 'in.1/fader/level': -3, 'in.77/fader/level': -3 },
      { 'in.1/fader/level': 99 },
      { 'in.1/mute/on': 'yes' },
    ])
      expect((await rig.post(`/desks/${rig.desk.id}/settings`, { settings })).status).toBe(422);
    expect(differing(rig.front.desk.settings(), before)).toEqual([]);
  });

  test('an open page hears moves and new scenes within a moment', async () => {
    const page = await rig.page();
    rig.front.hands({ 'in.4/fader/level': -33 });
    await until(
      () => page.told.some((m) => m.type === 'settings-changed' && m.settings['in.4/fader/level'] === -33),
      5000,
    );
    await rig.capture('Heard elsewhere');
    await until(
      () =>
        page.told.some((m) => m.type === 'scenes-changed') &&
        page.told.some((m) => m.type === 'desk' && m.desk.scene?.name === 'Heard elsewhere'),
      5000,
    );
    page.close();
  });

  test('stopped and started, everything is still there', async () => {
    const path = `/productions/${rig.production.id}/scenes`;
    const [scenes, standing] = [(await rig.get(path)).body, rig.desk.name];
    const state = await rig.stateOf((await rig.scene('Harbour bells')).id);
    await rig.running.close();
    await rig.start();
    expect((await rig.get(path)).body).toEqual(scenes);
    expect(rig.desk.name).toBe(standing);
    expect(await rig.stateOf((await rig.scene('Harbour bells')).id)).toEqual(state);
  });

  test('its migrations run on an empty and on a filled database, and a second time change nothing', async () => {
    for (const database of [`${rig.database}_empty`, rig.database]) {
      for (let run = 0; run < 2; run++) {
        const db = await connect({ ...ownDatabase(), database });
        expect(await db.schema.hasTable('scenes')).toBe(true);
        if (database.endsWith('_empty') && run === 1) await db.raw('DROP DATABASE ??', [database]);
        await db.destroy();
      }
    }
    expect(await count('scenes')).toBeGreaterThan(8);
  });
});
