import type { DeskView } from '@old-echo/core/contracts/desk';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { ScenePage, SceneView } from '@old-echo/core/contracts/scene';

import { differing, flat, Rig } from '../server-rig';

jest.setTimeout(60_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const create = (more: object) =>
  rig.post<{ id: string } & Problem>('/productions', { deskId: rig.desk.id, kind: 'show', ...more });
const named = async (name: string) =>
  (await rig.get<ProductionView[]>('/productions')).body.find((production) => production.name === name);
const scenesOf = async (id: string) => (await rig.get<ScenePage>(`/productions/${id}/scenes?limit=50`)).body.scenes;

test('a show begun from a scene of another has a copy of it as its first, and that one is as it was', async () => {
  const from = await rig.scene('Low tide');
  const before = await rig.get<SceneView>(`/scenes/${from.id}`);
  const { status, body } = await create({ name: 'Second night', fromSceneId: from.id });
  expect(status).toBe(201);
  const [first, ...more] = await scenesOf(body.id);
  expect([first!.name, first!.number, more]).toEqual(['Low tide', 1, []]);
  expect(differing(flat(await rig.stateOf(first!.id)), flat(await rig.stateOf(from.id)))).toEqual([]);
  expect((await named('Second night'))!.versions[0]!.fromSceneId).toBe(from.id);
  expect((await rig.get<SceneView>(`/scenes/${from.id}`)).body).toEqual(before.body);
});

test('a scene of another desk model, or one that is gone, is refused with what to do, and no show is left of it', async () => {
  const skiff = (await rig.get<DeskView[]>('/desks')).body.find(({ name }) => name === 'Skiff 16')!;
  const from = await rig.scene('Night Ferry');
  const other = await create({ name: 'On the spare', deskId: skiff.id, fromSceneId: from.id });
  expect([other.status, other.body.title, other.body.detail]).toEqual([
    422,
    'That scene is of a different desk model.',
    'Choose one of the same desk model, or carry its song or show over.',
  ]);
  const gone = await create({ name: 'From nothing', fromSceneId: '01AAAAAAAAAAAAAAAAAAAAAAAA' });
  expect(gone.status).toBe(404);
  expect([await named('On the spare'), await named('From nothing')]).toEqual([undefined, undefined]);
});

test('without a scene it begins empty', async () => {
  const { body } = await create({ name: 'Third night' });
  expect(await scenesOf(body.id)).toEqual([]);
});
