import type { DeskView } from '@old-echo/core/contracts/desk';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { type RestoreView, resumeRecall, sceneRecall } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { wiredPart } from '@old-echo/core/desk/manual';
import { parseProfile } from '@old-echo/core/desk/profile';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import { ALL_WITH_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { walkStops } from '@old-echo/core/recall/walk';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { DeskServer } from '@old-echo/stand-in/front';
import { hybridSource, netloft, profileJson } from '@old-echo/testing/profiles';

import { flat, Rig, until } from '../server-rig';

jest.setTimeout(120_000);

/** What is wired of a desk that has a rack beside it. */
const hybrid = parseProfile(hybridSource);
const wired = new SimulatedDesk(wiredPart(hybrid));
const front = new DeskServer(wired);

let rig: Rig;
let versionId: string;
beforeAll(async () => {
  rig = await Rig.open({}, { ownProcess: true });
});
afterAll(async () => {
  await rig.close();
  await front.close();
});

/** A desk with a song of its own, which the rig works on from then on. */
async function add(source: unknown, profileId: string, port: number): Promise<void> {
  await rig.post('/profiles', { source });
  const desk = { name: `Own ${profileId}`, profileId, mode: 'studio', host: '127.0.0.1', port };
  rig.desk = (await rig.post<DeskView>('/desks', desk)).body;
  await rig.linked();
  const song = { deskId: rig.desk.id, name: `Low water, ${profileId}`, kind: 'song' };
  const { id } = (await rig.post<ProductionView>('/productions', song)).body;
  versionId = (await rig.get<ProductionView[]>('/productions')).body.find((one) => one.id === id)!.versions[0]!.id;
}

const now = async () => flat((await rig.get<State>(`/desks/${rig.desk.id}/state`)).body);
const enter = (settings: SettingsByAddress) => rig.post(`/desks/${rig.desk.id}/settings`, { settings });
const mark = (id: string, marks: Record<string, 'set' | 'could not' | null>) =>
  rig.post<RestoreView & Problem>(`/restores/${id}/marks`, { marks });
const end = (id: string) => rig.post<RestoreView & Problem>(`/restores/${id}/end`, {});
const captured = async (name: string): Promise<SceneView> =>
  (await rig.post<SceneView>(`/desks/${rig.desk.id}/captures`, { versionId, name })).body;

/** A restore of a scene, as far as nothing but people can go on. */
async function walkOf(sceneId: string): Promise<RestoreView> {
  const view = await rig.restore(sceneId, ALL_WITH_GLOBALS);
  expect(view.status).toBe('walk');
  return view;
}
/** The ids of all that is to be set, in order. */
const idsOf = async ({ id }: RestoreView, profile = netloft): Promise<string[]> =>
  walkStops(profile, (await rig.get<Parameters<typeof walkStops>[1]>(`/restores/${id}/journal`)).body).flatMap(
    ({ items }) => items.map((item) => item.id),
  );
const marked = (ids: readonly string[], as: 'set' | 'could not' | null) =>
  Object.fromEntries(ids.map((id) => [id, as]));

describe('a manual desk', () => {
  let quiet: SceneView;
  let loud: SceneView;
  beforeAll(async () => {
    await add(profileJson('netloft-24'), 'netloft-24', 9);
    quiet = await captured('Quiet');
    await enter({
      'in.1/fader/level': -5,
      'in.2/eq/low/gain': 3,
      'in.2/label/name': 'Fiddle',
      'rack.1/compressor/makeup': 4,
    });
    loud = await captured('Loud');
  });

  test('is there at once, holds what was said of it, and still does after the server was killed', async () => {
    expect(rig.desk).toMatchObject({ address: '', link: { state: 'linked', manual: true } });
    await rig.running.kill?.();
    await rig.start();
    expect(await now()).toMatchObject({ 'in.1/fader/level': -5, 'in.2/label/name': 'Fiddle', 'in.3/fader/level': -90 });
  });

  test('a scene comes back by a walk that is broken off by a kill and goes on; what was set is so', async () => {
    const walk = await walkOf(quiet.id);
    const ids = await idsOf(walk);
    expect(ids).toHaveLength(4);
    expect((await mark(walk.id, marked(ids.slice(0, 2), 'set'))).body.marks).toEqual(marked(ids.slice(0, 2), 'set'));
    await rig.running.kill?.();
    await rig.start();
    const after = (await rig.get<RestoreView>(`/restores/${walk.id}`)).body;
    expect([after.status, after.marks]).toEqual(['walk', marked(ids.slice(0, 2), 'set')]);
    // Set by mistake, and taken back: it stands where it was.
    const first = ids[0] ?? '';
    const address = first.slice(first.indexOf('/') + 1);
    await mark(walk.id, { [first]: null });
    expect((await now())[address]).toEqual(flat(await rig.stateOf(loud.id))[address]);
    await mark(walk.id, marked(ids, 'set'));
    const { body } = await end(walk.id);
    expect(body).toMatchObject({ status: 'confirmed', report: { confirmed: 0, unconfirmed: [] } });
    expect(body.report?.byHand).toHaveLength(4);
    expect(await now()).toEqual(flat(await rig.stateOf(quiet.id)));
    expect((await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body.scene?.id).toBe(quiet.id);
  });

  test('what was skipped and what could not be is named, and the rest is a walk of its own', async () => {
    const walk = await walkOf(loud.id);
    const ids = await idsOf(walk);
    await mark(walk.id, { ...marked(ids.slice(0, 1), 'could not'), ...marked(ids.slice(1, 3), 'set') });
    const { body } = await end(walk.id);
    expect([body.status, body.report?.byHand?.length]).toEqual(['incomplete', 2]);
    expect(body.report?.unconfirmed.map(({ why }) => why).sort()).toEqual([
      'Could not be set by hand.',
      'Skipped in the walk.',
    ]);
    const rest = await rig.restored(resumeRecall(rig.desk.id, walk.id, 'finish'));
    expect([rest.status, await idsOf(rest)]).toEqual(['walk', [ids[0], ids[3]]]);
    await mark(rest.id, marked(await idsOf(rest), 'set'));
    expect((await end(rest.id)).body.status).toBe('confirmed');
    expect(await now()).toEqual(flat(await rig.stateOf(loud.id)));
  });

  test('something else that is restored ends it where it is; nothing more is said of it then', async () => {
    const walk = await walkOf(quiet.id);
    const ids = await idsOf(walk);
    await mark(walk.id, marked(ids.slice(0, 1), 'set'));
    const other = await walkOf(quiet.id);
    const first = (await rig.get<RestoreView>(`/restores/${walk.id}`)).body;
    expect([first.status, first.report?.unconfirmed[0]?.why]).toEqual([
      'incomplete',
      'Something else was restored before it was set.',
    ]);
    expect((await mark(walk.id, marked(ids, 'set'))).body).toMatchObject({
      type: 'urn:old-echo:conflict',
      title: 'This walk has ended.',
    });
    expect((await end(walk.id)).status).toBe(409);
    // Two people end the same one.
    const both = await Promise.all([end(other.id), end(other.id)]);
    expect(both.map(({ status }) => status).sort()).toEqual([200, 409]);
  });

  test('a locked show and marks that are none change nothing, and it cannot be resumed while it goes on', async () => {
    const walk = await walkOf(loud.id);
    const ids = await idsOf(walk);
    const before = await now();
    expect((await mark(walk.id, { 'set/in.9/fader/level': 'set' })).status).toBe(422);
    expect((await rig.post(`/restores/${walk.id}/marks`, { marks: { [ids[0] ?? '']: 'done' } })).status).toBe(422);
    expect((await rig.post(`/restores/${walk.id}/marks`, { marks: {} })).status).toBe(422);
    await rig.call('PATCH', `/desks/${rig.desk.id}`, { showLock: true });
    expect((await mark(walk.id, marked(ids, 'set'))).body.type).toBe('urn:old-echo:show-lock');
    await rig.call('PATCH', `/desks/${rig.desk.id}`, { showLock: false });
    expect(await now()).toEqual(before);
    const refused = await rig.plan(resumeRecall(rig.desk.id, walk.id, 'finish'));
    expect(refused).toMatchObject({ type: 'urn:old-echo:refused-input' });
    await end(walk.id);
  });

  test('two phones mark at once, and every mark is kept', async () => {
    const walk = await walkOf(quiet.id);
    const ids = await idsOf(walk);
    await Promise.all(ids.map((id) => mark(walk.id, { [id]: 'set' })));
    const { marks } = (await rig.get<RestoreView>(`/restores/${walk.id}`)).body;
    expect(marks).toEqual(marked(ids, 'set'));
    await end(walk.id);
  });

  test('in live mode it may be said of anything where it stands: nothing moves by that', async () => {
    await rig.call('PATCH', `/desks/${rig.desk.id}`, {
      mode: 'live',
      safes: [{ strips: ['in.1'], sections: ['*'] }],
    });
    const answer = await enter({ 'main.1/fader/level': 10, 'in.1/fader/level': 10 });
    expect([answer.status, answer.body]).toEqual([200, { unconfirmed: [] }]);
    expect(await now()).toMatchObject({ 'main.1/fader/level': 10, 'in.1/fader/level': 10 });
    await rig.call('PATCH', `/desks/${rig.desk.id}`, { mode: 'studio', safes: [] });
  });

  test('there is nothing to try of its link', async () => {
    const answer = await rig.post<Problem>('/link-trials', { profileId: 'netloft-24', host: '127.0.0.1', port: 9 });
    expect([answer.status, answer.body.title]).toEqual([422, 'No wire leads to a manual desk.']);
  });
});

describe('a desk with a rack beside it', () => {
  let plain: SceneView;
  let other: SceneView;
  beforeAll(async () => {
    await add(hybridSource, 'skiff-and-rack', await front.open(0));
    plain = await captured('Plain');
    await enter({ 'in.1/fader/level': -8, 'in.2/mute/on': true, 'rack.1/compressor/on': true });
    await enter({ 'rack.2/compressor/makeup': 6 });
    other = await captured('Other');
  });

  test('is captured as one, and comes back as one: what is wired by itself, the rest by hand', async () => {
    expect(wired.settings()).toMatchObject({ 'in.1/fader/level': -8, 'in.2/mute/on': true });
    const walk = await walkOf(plain.id);
    expect(walk.report).toMatchObject({ confirmed: 2, unconfirmed: [] });
    expect(wired.settings()).toMatchObject({ 'in.1/fader/level': -90, 'in.2/mute/on': false });
    const ids = await idsOf(walk, hybrid);
    expect(ids).toEqual(['set/rack.1/compressor/on', 'set/rack.2/compressor/makeup']);
    expect(await now()).toMatchObject({ 'rack.1/compressor/on': true, 'rack.2/compressor/makeup': 6 });
    await mark(walk.id, marked(ids, 'set'));
    const { body } = await end(walk.id);
    expect(body).toMatchObject({ status: 'confirmed', changes: 4, report: { confirmed: 2 } });
    expect(await now()).toEqual(flat(await rig.stateOf(plain.id)));
  });

  test('what is wired alone needs no walk', async () => {
    await enter({ 'in.3/fader/level': -12 });
    expect((await rig.restore(plain.id, ALL_WITH_GLOBALS)).status).toBe('confirmed');
  });

  test('with the wire gone, what was begun by hand is still noted; what is wired is refused', async () => {
    const walk = await walkOf(other.id);
    await front.close();
    await until(async () => (await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body.link.state === 'unlinked');
    expect((await mark(walk.id, marked(await idsOf(walk, hybrid), 'set'))).status).toBe(200);
    expect((await end(walk.id)).body).toMatchObject({ status: 'confirmed' });
    expect(
      (await rig.begin(sceneRecall(rig.desk.id, plain.id, ALL_WITH_GLOBALS), { fingerprint: '0'.repeat(64) })).status,
    ).not.toBe(202);
  });
});
