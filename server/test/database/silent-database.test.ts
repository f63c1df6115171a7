import type { Problem } from '@old-echo/core/contracts/problem';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { faultRow } from '@old-echo/testing/fault-rows';

import { differing, Rig, until } from '../server-rig';

jest.setTimeout(120_000);

const pid = Number(process.env['OLD_ECHO_CRASHING_DB_PID']);
let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open({
    OLD_ECHO_DB_PORT: process.env['OLD_ECHO_CRASHING_DB_PORT'],
    OLD_ECHO_DB_PASSWORD: process.env['OLD_ECHO_CRASHING_DB_PASSWORD'],
  });
});
afterAll(() => rig.close());

test('while the database hangs, hands go on, questions end with a sentence, and afterwards all is as before', async () => {
  const before = (await rig.get('/productions')).body;
  const move = (level: number) =>
    rig.post<{ unconfirmed: unknown[] }>(`/desks/${rig.desk.id}/settings`, { settings: { 'in.1/fader/level': level } });
  await move(-30);
  process.kill(pid, 'SIGSTOP');
  try {
    const asked = rig.get<Problem>('/productions');
    for (const level of [-31, -32, -33]) expect((await move(level)).body.unconfirmed).toEqual([]);
    expect(rig.front.desk.settings()['in.1/fader/level']).toBe(-33);
    const answer = await asked;
    expect([answer.status, answer.body.type]).toEqual([503, 'urn:old-echo:try-later']);
    expect(answer.body.title).toMatch(/^The database has not answered (for \d+ seconds|in time)\.$/);
    // Nor is a capture claimed.
    expect((await rig.capture('While it hung')).status).toBe(503);
  } finally {
    process.kill(pid, 'SIGCONT');
  }
  await until(async () => (await rig.get('/productions')).status === 200, 60_000);
  faultRow(
    'MariaDB hangs',
    '3 moves, 2 other requests',
    'moves were done; the others ended with 503 and a sentence; then as before',
  );
  const productions = (await rig.get<typeof before>('/productions')).body;
  expect(Array.isArray(productions) && productions.length).toBe((before as unknown[]).length);
});

test('a restore whose engineer was told that the database is silent does not begin by itself when that is back', async () => {
  const scene = (await rig.capture('Before the silence')).body;
  rig.front.hands({ 'in.5/fader/level': -37 });
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length > 0);
  const recall = sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS);
  const { fingerprint, cautions } = await rig.plan(recall);
  const answers = cautions.map(({ id }) => ({ id, way: 'checked' }));
  const before = rig.front.desk.settings();
  process.kill(pid, 'SIGSTOP');
  try {
    const asked = await rig.post<Problem>(`/desks/${rig.desk.id}/restores`, { recall, fingerprint, answers });
    expect([asked.status, asked.body.type]).toEqual([503, 'urn:old-echo:try-later']);
  } finally {
    process.kill(pid, 'SIGCONT');
  }
  await until(async () => (await rig.get('/productions')).status === 200);
  await new Promise((resolve) => setTimeout(resolve, 4000));
  expect(differing(before, rig.front.desk.settings())).toEqual([]);
  // It can be asked for again.
  expect((await rig.restored(recall)).status).toBe('confirmed');
});
