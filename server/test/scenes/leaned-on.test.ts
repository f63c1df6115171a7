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
