import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { Rig, until } from '../server-rig';
import { download } from './file-steps';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

test('an archive of which a part cannot be read breaks off, and everything else goes on', async () => {
  const path = `/exports/productions/${rig.production.id}`;
  expect((await download(rig, path)).length).toBeGreaterThan(1000);
  const admin = rig.admin();
  await admin.raw('USE ??', [rig.database]);
  await admin.raw("UPDATE strip_states SET content = 'noise' ORDER BY id LIMIT 1");
  await admin.destroy();
  await expect(download(rig, path)).rejects.toThrow();
  const scene = (await rig.capture('Afterwards')).body;
  // Whatever scene the desk was on: it is captured, and another one restored.
  rig.front.hands({ 'in.1/fader/level': -44 });
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 1);
  expect((await rig.restore(scene.id, ALL_EXCEPT_GLOBALS)).status).toBe('confirmed');
});
