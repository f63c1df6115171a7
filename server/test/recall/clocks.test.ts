import type { State } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { faultRow } from '@old-echo/testing/fault-rows';

import { Rig, until } from '../server-rig';
import { JUMPS, setWallClock } from '../wall-clock';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterEach(() => jest.useRealTimers());
afterAll(() => rig.close());

test.each(JUMPS)('a clock that is set %s in the middle of a restore changes nothing about it', async (title, jump) => {
  const scene = (await rig.capture(`Before ${jump}`)).body;
  rig.front.hands({ 'in.1/fader/level': -23, 'in.2/fader/level': -24 });
  await until(async () => (await rig.get<State>(`/desks/${rig.desk.id}/state`)).body['in.2']?.['fader/level'] === -24);
  const { body } = await rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS, { fade: 1.5 });
  setWallClock(jump);
  const view = await rig.ended(body.id);
  expect(view).toMatchObject({ status: 'confirmed', report: { unconfirmed: [] } });
  expect(view.report!.milliseconds).toBeGreaterThan(1000);
  expect(view.report!.milliseconds).toBeLessThan(60_000);
  faultRow(`the clock set ${title} in the middle of a restore`, '1 restore', 'confirmed, in its own time');
});
