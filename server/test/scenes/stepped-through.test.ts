import type { Problem } from '@old-echo/core/contracts/problem';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import type { SceneNeighbours, SceneView } from '@old-echo/core/contracts/scene';
import { compileScope } from '@old-echo/core/recall/compile-scope';
import type { Scope } from '@old-echo/core/recall/scope-rules';
import { sourcesInScope } from '@old-echo/core/recall/sources-in-scope';
import type { BaselineOrigins } from '@old-echo/core/scenes/baseline';
import { quay } from '@old-echo/testing/profiles';

import { differing, Rig } from '../server-rig';

jest.setTimeout(120_000);

const SENDS: Scope = [{ strips: ['in.1', 'in.2'], sections: ['sends'], include: true }];

let rig: Rig;
/** Three scenes in a row that differ in sends and faders. */
const scenes: SceneView[] = [];
beforeAll(async () => {
  rig = await Rig.open();
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [], mode: 'studio' });
  for (const [i, name] of ['First', 'Second', 'Third'].entries()) {
    await rig.hands({
      'in.1/sends/mix.1/level': -40 - i,
      'in.2/sends/mix.1/level': -30 - i,
      'in.1/fader/level': -20 - i,
    });
    scenes.push((await rig.capture(name)).body);
  }
});
afterAll(() => rig.close());

const held = () => rig.front.desk.settings();
const neighbours = async (id: string) => {
  const { earlier, later } = (await rig.get<SceneNeighbours>(`/scenes/${id}/neighbours`)).body;
  return [earlier?.name, later?.name];
};
const take = ({ id }: SceneView) =>
  rig.post<{ id: string } & Problem>(`/desks/${rig.desk.id}/restores`, {
    recall: sceneRecall(rig.desk.id, id, SENDS),
    fingerprint: null,
    answers: [],
  });
const from = async () => {
  const { body } = await rig.get<BaselineOrigins>(`/desks/${rig.desk.id}/baseline-origins`);
  return sourcesInScope(body, compileScope(quay, SENDS)).map(({ name }) => name);
};

test('the scenes to either side are those that people captured, whatever was autosaved or binned between', async () => {
  const [first, second, third] = scenes as [SceneView, SceneView, SceneView];
  expect(await neighbours(second.id)).toEqual(['First', 'Third']);
  expect((await neighbours(third.id))[1]).toBeUndefined();
  await rig.ended((await take(first)).body.id);
  expect(await neighbours(third.id)).toEqual(['Second', undefined]);
  await rig.post(`/scenes/${second.id}/bin`, {});
  expect(await neighbours(third.id)).toEqual(['First', undefined]);
  // From one in the bin one gets back to those that are not.
  expect(await neighbours(second.id)).toEqual(['First', 'Third']);
  await rig.post(`/scenes/${second.id}/unbin`, {});
  expect((await rig.get(`/scenes/${'0'.repeat(26)}/neighbours`)).status).toBe(404);
});

test('a step moves what is held and nothing else; where it is from is told, and what is kept has both as parents', async () => {
  const [first, second, third] = scenes as [SceneView, SceneView, SceneView];
  await rig.ended((await take(third)).body.id);
  const before = held();
  for (const scene of [second, first]) {
    expect((await rig.ended((await take(scene)).body.id)).status).toBe('confirmed');
    expect(await from()).toEqual([scene.name]);
    expect(differing(before, held()).sort()).toEqual(['in.1/sends/mix.1/level', 'in.2/sends/mix.1/level']);
  }
  const again = await take(first);
  expect([again.status, again.body.type]).toEqual([409, 'urn:old-echo:no-difference']);
  await rig.call('PATCH', `/scenes/${first.id}`, { name: 'First renamed', revision: first.revision });
  expect(await from()).toEqual(['First renamed']);
  const kept = (await rig.capture('Sends of the first')).body;
  expect([...kept.parents].sort()).toEqual([first.id, third.id].sort());
  expect(await from()).toEqual(['Sends of the first']);
});

test('what never comes back on this desk does not come with a step or a swap either', async () => {
  const [first] = scenes as [SceneView];
  const other = (await rig.capture('Before the sends are safe')).body;
  await rig.hands({ 'in.1/sends/mix.1/level': -12, 'in.1/fader/level': -33 });
  await rig.capture('Sends are safe from here');
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [{ strips: ['*'], sections: ['sends'] }] });
  const before = held();
  expect((await take(first)).body.type).toBe('urn:old-echo:no-difference');
  const swapped = await rig.post<{ id: string }>(`/desks/${rig.desk.id}/swaps`, { by: '' });
  expect((await rig.ended(swapped.body.id)).sceneId).toBe(other.id);
  expect(differing(before, held())).toEqual(['in.1/fader/level']);
});
