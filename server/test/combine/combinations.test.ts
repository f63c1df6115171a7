import type { CombinationView } from '@old-echo/core/contracts/combination';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { fingerprint } from '@old-echo/core/desk/fingerprint';
import type { SettingsByAddress } from '@old-echo/core/desk/state';

import { Rig } from '../server-rig';

jest.setTimeout(60_000);

let rig: Rig;
let [start, mine, theirs] = [{}, {}, {}] as [SceneView, SceneView, SceneView];

/** A line of work that begins at `start`: a copy of it, changed. */
async function line(name: string, settings: SettingsByAddress): Promise<SceneView> {
  const versionId = (await rig.post<{ id: string }>(`/productions/${rig.production.id}/versions`, { name, note: '' }))
    .body.id;
  const copy = (await rig.post<SceneView>(`/scenes/${start.id}/copy`, { versionId, name })).body;
  const ripple = { settings, scenes: [{ id: copy.id, revision: copy.revision }], by: 'Ann' };
  const { body } = await rig.rippled(ripple);
  return (await rig.get<SceneView>(`/scenes/${body.scenes[0]!.id}`)).body;
}

const begin = (body: object) => rig.post<CombinationView>('/combinations', body);
const words = (body: unknown): string => JSON.stringify(body);

beforeAll(async () => {
  rig = await Rig.open();
  rig.front.hands({ 'in.1/fader/level': 0, 'in.1/mute/on': false, 'in.2/fader/level': 0, 'in.3/fader/level': 0 });
  start = (await rig.capture('Common start')).body;
  mine = await line('Mine', { 'in.1/fader/level': -5, 'in.2/fader/level': -20 });
  theirs = await line('Theirs', { 'in.1/fader/level': -12, 'in.3/fader/level': -7 });
});
afterAll(() => rig.close());

test('two lines come together from the nearest scene that both come from, can be left and gone on with, and are kept once settled', async () => {
  const before = await Promise.all([start, mine, theirs].map(async ({ id }) => fingerprint(await rig.stateOf(id))));
  const { status, body } = await begin({ base: mine.id, merge: theirs.id, picks: {} });
  expect([status, body.recipe.merge]).toEqual([201, { scene: theirs.id, parent: start.id }]);
  const keep = { name: 'Both', note: 'Of both', revision: 1 };
  const early = await rig.post(`/combinations/${body.id}/save`, keep);
  expect([early.status, words(early.body)]).toEqual([422, expect.stringContaining('1 section is at odds')]);

  await rig.running.close();
  await rig.start();
  expect((await rig.get<CombinationView[]>(`/combinations?production=${rig.production.id}`)).body).toMatchObject([
    { id: body.id },
  ]);
  const edit = { picks: { 'in.1/fader': theirs.id }, revision: 1 };
  expect((await rig.call('PATCH', `/combinations/${body.id}`, edit)).status).toBe(200);
  expect((await rig.call('PATCH', `/combinations/${body.id}`, edit)).status).toBe(409);
  const kept = await rig.post<SceneView>(`/combinations/${body.id}/save`, { ...keep, revision: 2 });
  expect(kept.body).toMatchObject({ name: 'Both', versionId: mine.versionId, parents: [mine.id, theirs.id] });
  const state = await rig.stateOf(kept.body.id);
  expect([1, 2, 3].map((n) => state[`in.${n}`]?.['fader/level'])).toEqual([-12, -20, -7]);
  expect((await rig.get(`/scenes/${kept.body.id}/cell-origins`)).body).toEqual({
    'in.1/fader': theirs.id,
    'in.3/fader': theirs.id,
  });
  expect((await rig.get(`/combinations/${body.id}`)).status).toBe(404);

  // Behind it now, so there is nothing to bring in again.
  const again = await begin({ base: kept.body.id, merge: theirs.id, picks: {} });
  expect([again.status, words(again.body)]).toEqual([
    422,
    expect.stringContaining('already contains everything in 12 Theirs'),
  ]);
  expect(await Promise.all([start, mine, theirs].map(async ({ id }) => fingerprint(await rig.stateOf(id))))).toEqual(
    before,
  );
});

test('picked cells come from where they were picked; nothing picked makes no scene', async () => {
  const { body } = await begin({ base: mine.id, picks: {} });
  const empty = await rig.post(`/combinations/${body.id}/save`, { name: 'Nothing', revision: 1 });
  expect([empty.status, words(empty.body)]).toEqual([422, expect.stringContaining('Nothing was taken.')]);
  await rig.call('PATCH', `/combinations/${body.id}`, { picks: { 'in.3/fader': theirs.id }, revision: 1 });
  const kept = await rig.post<SceneView>(`/combinations/${body.id}/save`, { name: 'Picked', revision: 2 });
  const state = await rig.stateOf(kept.body.id);
  expect([1, 2, 3].map((n) => state[`in.${n}`]?.['fader/level'])).toEqual([-5, -20, -7]);
  expect(kept.body.changed).toEqual({ settings: 1, strips: 1 });
});

test('a source in the bin, one of another kind of desk, a line without a common scene and a stranger end in a sentence', async () => {
  const { body } = await begin({ base: mine.id, picks: { 'in.3/fader': theirs.id } });
  await rig.post(`/scenes/${theirs.id}/bin`, {});
  const binned = await rig.post(`/combinations/${body.id}/save`, { name: 'Of the bin', revision: 1 });
  expect([binned.status, words(binned.body)]).toEqual([409, expect.stringContaining('is in the bin')]);
  await rig.post(`/scenes/${theirs.id}/unbin`, {});
  expect((await rig.call('DELETE', `/combinations/${body.id}`)).status).toBe(200);

  const productions = (await rig.get<ProductionView[]>('/productions')).body;
  const other = productions.find(({ deskId }) => deskId !== rig.desk.id)!;
  const { scenes } = (await rig.get<{ scenes: SceneView[] }>(`/productions/${other.id}/scenes`)).body;
  expect((await begin({ base: mine.id, picks: { 'in.1/eq': scenes[0]!.id } })).status).toBe(422);
  const alone = (
    await rig.get<{ scenes: SceneView[] }>(`/productions/${rig.production.id}/scenes?limit=200`)
  ).body.scenes.at(-1)!;
  const none = await begin({ base: mine.id, merge: scenes[0]!.id, picks: {} });
  expect([none.status, words(none.body)]).toEqual([422, expect.stringContaining('in common')]);
  expect((await begin({ base: alone.id, picks: { nonsense: mine.id } })).status).toBe(422);
});
