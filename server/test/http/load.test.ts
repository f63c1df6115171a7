import type { Problem } from '@old-echo/core/contracts/problem';

import { Rig } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open({}, { ownProcess: true });
});
afterAll(() => rig.close());

// RFC 9110, 15.6.4: 503 with Retry-After while a server is overloaded.
test('more at once than can be done are sent away with a time to come back; moves by hand are done, all of them', async () => {
  const url = `http://127.0.0.1:${rig.running.port}/api`;
  const scene = await rig.scene('Harbour bells');
  const asked = Array.from({ length: 300 }, () => fetch(`${url}/scenes/${scene.id}/state`));
  const moves = [-11, -12, -13].map((level) =>
    rig.post(`/desks/${rig.desk.id}/settings`, { settings: { 'in.1/fader/level': level } }),
  );
  expect((await Promise.all(moves)).map(({ status }) => status)).toEqual([200, 200, 200]);
  const answers = await Promise.all(asked);
  const shed = answers.filter(({ status }) => status !== 200);
  expect(shed.length).toBeLessThan(300 - 40);
  for (const answer of shed) {
    expect([answer.status, answer.headers.get('retry-after')]).toEqual([503, '5']);
    expect(((await answer.json()) as Problem).type).toBe('urn:old-echo:try-later');
  }
  expect(rig.front.desk.settings()['in.1/fader/level']).toBe(-13);
  // Afterwards nobody is sent away.
  await Promise.all(answers.filter(({ status }) => status === 200).map((answer) => answer.arrayBuffer()));
  const next = await Promise.all(Array.from({ length: 20 }, () => rig.get('/desks')));
  expect(next.every(({ status }) => status === 200)).toBe(true);
});
