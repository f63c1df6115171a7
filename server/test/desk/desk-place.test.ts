import type { DeskView, NewDesk } from '@old-echo/core/contracts/desk';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { FoundDesk, LinkTrial } from '@old-echo/core/desk/link-trial';
import type { State } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { DeskServer } from '@old-echo/stand-in/front';
import { profileJson, skiff } from '@old-echo/testing/profiles';

import { differing, flat, Rig, until } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
let front: DeskServer;
let port: number;
beforeAll(async () => {
  rig = await Rig.open();
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [], mode: 'studio' });
  front = new DeskServer(new SimulatedDesk(skiff));
  port = await front.open(0);
});
afterAll(async () => {
  await rig.close();
  await front.close();
});

const host = '127.0.0.1';
const desks = async () => (await rig.get<DeskView[]>('/desks')).body;
const desk = async (id: string) => (await rig.get<DeskView>(`/desks/${id}`)).body;
const add = (more: Partial<Record<keyof NewDesk, unknown>> = {}) =>
  rig.post<DeskView & Problem>('/desks', {
    name: 'Second skiff',
    profileId: skiff.id,
    mode: 'studio',
    host,
    port,
    ...more,
  });
const place = (id: string, to: { name: string; host?: string; port: number }) =>
  rig.call<DeskView & Problem>('PUT', `/desks/${id}/place`, { host, ...to });
const becomes = (id: string, state: DeskView['link']['state']) =>
  until(async () => (await desk(id)).link.state === state);
const stateOf = async (id: string) => flat((await rig.get<State>(`/desks/${id}/state`)).body);

let id: string;

test('the models that are here are told by what they have', async () => {
  const { body } = await rig.get<ProfileSummary[]>('/profiles');
  expect(body.map(({ name }) => name)).toEqual(['Boathouse', 'Netloft 24', 'Quay 48', 'Skiff 16']);
  const { strips, settings } = body.find((one) => one.id === skiff.id)!;
  expect([strips, settings]).toEqual([skiff.strips.length, Object.keys(front.desk.settings()).length]);
});

test('a desk is tried before it is added, and nothing is kept of that', async () => {
  // When a desk was heard last may be written meanwhile.
  const all = async () => (await desks()).map(({ heardAt: _, ...desk }) => desk);
  const before = await all();
  const { body } = await rig.post<LinkTrial>('/link-trials', { profileId: skiff.id, host, port });
  expect([body.why, body.desk?.name, body.answered, body.lost]).toEqual(['', skiff.name, body.settings, 0]);
  expect(await all()).toEqual(before);
});

test('added, it is linked, read, captured and restored to like any other', async () => {
  const { status, body } = await add();
  id = body.id;
  expect([status, body.name, body.address]).toEqual([201, 'Second skiff', `${host}:${port}`]);
  await becomes(id, 'linked');
  expect(await stateOf(id)).toEqual(front.desk.settings());
  const begun = { deskId: id, name: 'First light', kind: 'song' };
  const song = (await rig.post<ProductionView>('/productions', begun)).body.id;
  const all = (await rig.get<ProductionView[]>('/productions')).body;
  const versionId = all.find((one) => one.id === song)!.versions[0]!.id;
  const scene = (await rig.post<SceneView>(`/desks/${id}/captures`, { versionId, name: 'As found' })).body;
  const found = front.desk.settings();
  front.hands({ 'in.1/fader/level': -30, 'in.2/mute/on': found['in.2/mute/on'] !== true });
  await until(async () => differing(await stateOf(id), front.desk.settings()).length === 0);
  const recall = { deskId: id, sceneId: scene.id, scope: ALL_EXCEPT_GLOBALS };
  const restore = await rig.post<{ id: string }>(`/desks/${id}/restores`, { recall, fingerprint: null, answers: [] });
  await rig.ended(restore.body.id);
  expect(differing(front.desk.settings(), found)).toEqual([]);
});

test.each([
  ['a name that another desk has', { name: 'quay 48' }, 409, 'name', 'There is a desk called Quay 48.'],
  ['an address where another desk is', { name: 'Third' }, 409, 'port', /^Second skiff is at 127\.0\.0\.1:\d+\.$/],
  ['a model that is not here', { name: 'Third', profileId: 'none' }, 404, undefined, /called none/],
  ['no name', { name: ' ' }, 422, 'name', /needs a name/],
  ['no host', { name: 'Third', host: 'two words' }, 422, 'host', /[Aa]n address is a name, or four numbers/],
  ['no port', { name: 'Third', port: 70_000 }, 422, 'port', /from 1 to 65535/],
])('is not added with %s', async (_, more, status, where, title) => {
  const before = await desks();
  const { status: got, body } = await add(more);
  expect([got, body.where]).toEqual([status, where]);
  expect(body.title).toMatch(title);
  expect(await desks()).toEqual(before);
});

test('two people who add the same at one moment add it once', async () => {
  const twin = { name: 'Twin', port: 40_001 };
  const both = await Promise.all([add(twin), add(twin)]);
  expect(both.map(({ status }) => status).sort()).toEqual([201, 409]);
  const made = both.find(({ status }) => status === 201)!.body;
  // Nothing answers there.
  const state = await rig.get<Problem>(`/desks/${made.id}/state`);
  expect([state.status, state.body.title]).toEqual([503, 'The desk is not connected yet.']);
  await rig.post(`/desks/${made.id}/remove`, {});
});

test('moved to another address it is read anew there; renamed it is called so; and both can be taken back', async () => {
  const other = new DeskServer(new SimulatedDesk(skiff));
  const there = await other.open(0);
  other.hands({ 'in.4/fader/level': -11 });
  const { body } = await place(id, { name: 'Skiff on the pier', port: there });
  expect([body.name, body.address]).toEqual(['Skiff on the pier', `${host}:${there}`]);
  await becomes(id, 'linked');
  expect((await stateOf(id))['in.4/fader/level']).toBe(-11);
  await place(id, { name: 'Second skiff', port });
  await becomes(id, 'linked');
  expect(await stateOf(id)).toEqual(front.desk.settings());
  await other.close();
});

test('neither moved nor removed while it is restored to, or while the show is locked', async () => {
  const capture = (await rig.capture('To come back slowly')).body;
  const first = rig.desk.id;
  await rig.hands({ 'in.1/fader/level': -40 });
  const fade = await rig.startRestore(capture.id, ALL_EXCEPT_GLOBALS, { fade: 3 });
  expect(fade.status).toBe(202);
  const answers = [
    await place(first, { name: 'Quay', port: 4 }),
    await rig.post<Problem>(`/desks/${first}/remove`, {}),
  ];
  expect(answers.map(({ status }) => status)).toEqual([423, 423]);
  await rig.ended(fade.body.id);
  await rig.call('PATCH', `/desks/${id}`, { showLock: true });
  const locked = [await place(id, { name: 'Quay', port }), await rig.post<Problem>(`/desks/${id}/remove`, {})];
  expect(locked.map(({ status, body }) => [status, body.title])).toEqual([
    [423, 'The show on Second skiff is locked.'],
    [423, 'The show on Second skiff is locked.'],
  ]);
  await rig.call('PATCH', `/desks/${id}`, { showLock: false });
  expect((await desk(first)).link.state).toBe('linked');
});

test('removed, what was made on it stays to be looked at, nothing is sent, and its name and place are free', async () => {
  const heard = await stateOf(id);
  const { body } = await rig.post<DeskView>(`/desks/${id}/remove`, {});
  expect([body.removedAt === null, body.link]).toEqual([
    false,
    { state: 'unlinked', why: 'Second skiff is out of use.' },
  ]);
  const moved = await rig.post<Problem>(`/desks/${id}/settings`, { settings: { 'in.1/fader/level': -3 } });
  expect([moved.status, moved.body.title]).toEqual([503, 'Second skiff is out of use.']);
  const song = (await rig.get<ProductionView[]>('/productions')).body.find(({ deskId }) => deskId === id)!;
  const page = await rig.get<{ scenes: SceneView[] }>(`/productions/${song.id}/scenes?limit=10`);
  expect(page.body.scenes.map(({ name }) => name)).toContain('As found');
  expect(front.desk.settings()).toEqual(heard);
  await rig.running.close();
  await rig.start();
  expect((await desk(id)).link.why).toBe('Second skiff is out of use.');
  const taker = (await add()).body;
  expect((await rig.post<Problem>(`/desks/${id}/bring-back`, {})).body.title).toBe(
    'There is a desk called Second skiff.',
  );
  await rig.post(`/desks/${taker.id}/remove`, {});
});

test('a desk that says it is there is offered while it is not in use here', async () => {
  const there = { profileId: skiff.id, name: skiff.name, host, port };
  const nearby = async () => (await rig.get<FoundDesk[]>('/nearby-desks')).body.filter((found) => found.port === port);
  await front.beFound();
  expect(await nearby()).toEqual([there]);
  await rig.post(`/desks/${id}/bring-back`, {});
  expect(await nearby()).toEqual([]);
  await rig.post(`/desks/${id}/remove`, {});
  expect(await nearby()).toEqual([there]);
});

test('brought back it is linked as before', async () => {
  await rig.post(`/desks/${id}/bring-back`, {});
  await becomes(id, 'linked');
  expect(await stateOf(id)).toEqual(front.desk.settings());
});

describe('a model from its profile', () => {
  const json = () =>
    structuredClone(profileJson('skiff-16')) as { id: string; name: string; families: { count: number }[] };
  const bring = (source: unknown) => rig.post<ProfileSummary & Problem>('/profiles', { source });

  test('is here from then on, and is a file again as it came', async () => {
    const source = { ...json(), id: 'punt-16', name: 'Punt 16' };
    expect((await bring(source)).body).toMatchObject({ id: 'punt-16', name: 'Punt 16', strips: skiff.strips.length });
    expect((await rig.get<object>('/profiles/punt-16/file')).body).toEqual(source);
    expect((await bring(source)).status).toBe(201);
    const { body } = await rig.get<ProfileSummary[]>('/profiles');
    expect(body.map(({ name }) => name)).toEqual(['Boathouse', 'Netloft 24', 'Punt 16', 'Quay 48', 'Skiff 16']);
  });

  test('with an id that is here as something else is refused, and the one that is here stays', async () => {
    const other = json();
    other.families[0]!.count -= 1;
    const more = { ...other, families: [...other.families, { ...other.families[0]!, id: 'matrix', count: 2 }] };
    const { status, body } = await bring(more);
    expect([status, body.title, body.where]).toEqual([
      409,
      'Skiff 16 is here as skiff-16, with other settings or ranges.',
      'source.id',
    ]);
    expect((await rig.get('/profiles/skiff-16')).body).toEqual(profileJson('skiff-16'));
  });

  test.each<[string, (source: ReturnType<typeof json>) => unknown, RegExp]>([
    ['no profile at all', () => ({ scenes: [] }), /Unknown field: scenes/],
    ['a list', () => [], /not readable|object/i],
    ['an id that is too long', (source) => ({ ...source, id: 'x'.repeat(41) }), /not readable at id/],
    [
      'more strips than any desk',
      (source) => ({ ...source, families: [{ ...source.families[0], count: 5000 }] }),
      /families\[0\]\.count/,
    ],
  ])('that is %s is refused with where it is wrong', async (_, change, title) => {
    const { status, body } = await bring(change(json()));
    expect(status).toBe(422);
    expect(body.title).toMatch(title);
  });
});
