import type { Problem } from '@old-echo/core/contracts/problem';
import type { State } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { Rig, until } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

test('a scene that is being restored, and its way back, cannot be deleted until that has ended', async () => {
  const other = (await rig.capture('Something else')).body;
  const scene = (await rig.capture('To be deleted')).body;
  rig.front.hands({ 'in.1/fader/level': -40 });
  await until(async () => (await rig.get<State>(`/desks/${rig.desk.id}/state`)).body['in.1']?.['fader/level'] === -40);
  const { id } = (await rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS, { fade: 3 })).body;
  const wayBack = (await rig.get<{ wayBack: { sceneId: string } }>(`/restores/${id}`)).body.wayBack.sceneId;
  for (const gone of [scene.id, other.id, wayBack]) await rig.post(`/scenes/${gone}/bin`, {});
  for (const gone of [scene.id, wayBack]) {
    const refused = await rig.call<Problem>('DELETE', `/scenes/${gone}`);
    expect([refused.status, refused.body.title]).toEqual([423, `${scene.number} To be deleted is being restored.`]);
  }
  // Not the other one either: nothing or all of it.
  expect((await rig.call('DELETE', `/productions/${rig.production.id}/bin`)).status).toBe(423);
  expect((await rig.get(`/scenes/${other.id}`)).status).toBe(200);
  expect((await rig.ended(id)).status).toBe('confirmed');
  expect((await rig.call('DELETE', `/productions/${rig.production.id}/bin`)).status).toBe(200);
  expect((await rig.get(`/scenes/${scene.id}`)).status).toBe(404);
});

test('a scene that a combination takes from cannot be deleted until that is saved or discarded', async () => {
  const base = (await rig.capture('Low')).body;
  rig.front.hands({ 'in.2/fader/level': -31 });
  await until(async () => (await rig.get<State>(`/desks/${rig.desk.id}/state`)).body['in.2']?.['fader/level'] === -31);
  const other = (await rig.capture('High')).body;
  const combination = { base: base.id, merge: null, picks: { 'in.2/fader': other.id } };
  const { id } = (await rig.post<{ id: string }>('/combinations', combination)).body;
  for (const { id: scene } of [base, other]) await rig.post(`/scenes/${scene}/bin`, {});
  const bin = `/productions/${rig.production.id}/bin`;
  for (const [path, scene] of [
    [`/scenes/${base.id}`, base],
    [`/scenes/${other.id}`, other],
    [bin, base],
  ] as const) {
    const { status, body } = await rig.call<Problem>('DELETE', path);
    expect([status, body.title]).toEqual([
      423,
      `${scene.number} ${scene.name} is part of a combination that is not saved yet.`,
    ]);
    expect(body.detail).toContain(`Save or discard the combination of ${base.number} Low in ${rig.production.name}`);
  }
  expect((await rig.get(`/combinations/${id}`)).status).toBe(200);
  await rig.call('DELETE', `/combinations/${id}`);
  expect((await rig.call('DELETE', bin)).status).toBe(200);
});

test('a version that is deleted takes the combinations that began in it along, but nothing that another one needs', async () => {
  const first = (await rig.capture('First')).body;
  const versionWith = async (name: string) => {
    const { body } = await rig.post<{ id: string }>(`/productions/${rig.production.id}/versions`, { name, note: '' });
    return {
      id: body.id,
      scene: (await rig.post<{ id: string }>(`/scenes/${first.id}/copy`, { versionId: body.id, name })).body,
    };
  };
  const going = await versionWith('Going');
  const { scene: theirs } = await versionWith('Staying');
  const begin = async (base: string, from: string) =>
    (await rig.post<{ id: string }>('/combinations', { base, merge: null, picks: { 'in.3/fader': from } })).body.id;
  const [own, needing] = [await begin(going.scene.id, theirs.id), await begin(theirs.id, going.scene.id)];
  await rig.post(`/versions/${going.id}/bin`, {});
  expect((await rig.call('DELETE', `/versions/${going.id}`)).status).toBe(423);
  expect((await rig.get(`/combinations/${own}`)).status).toBe(200);
  await rig.call('DELETE', `/combinations/${needing}`);
  expect((await rig.call('DELETE', `/versions/${going.id}`)).status).toBe(200);
  expect((await rig.get(`/combinations/${own}`)).status).toBe(404);
});
