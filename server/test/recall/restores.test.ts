import type { DeskView } from '@old-echo/core/contracts/desk';
import type { RestoreView } from '@old-echo/core/contracts/restore';
import { specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, quantise } from '@old-echo/core/desk/setting';
import { addressesOf, type SettingsByAddress } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS, type Scope } from '@old-echo/core/recall/scope-rules';
import { quay } from '@old-echo/testing/profiles';

import { differing, flat, Rig, until } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());
afterEach(async () => {
  rig.front.misbehave({});
  rig.front.freeze(false);
  rig.front.refuse([]);
  await rig.linked();
});

const held = () => rig.front.desk.settings();

/** `count` faders, sends, gains and thresholds of the inputs, each somewhere else than it is. */
function scramble(count: number): SettingsByAddress {
  const now = held();
  const numbers = addressesOf(quay).filter((address) => {
    const spec = specOf(quay, address)!;
    return /^in\.(?!47|48)/.test(address) && isNumberSpec(spec);
  });
  const every = Math.floor(numbers.length / count);
  return Object.fromEntries(
    numbers
      .filter((_, i) => i % every === 0)
      .slice(0, count)
      .map((address) => {
        const spec = specOf(quay, address)!;
        if (!isNumberSpec(spec)) return [address, 0];
        const middle = quantise(spec, (spec.min + spec.max) / 2);
        return [address, middle === now[address] ? quantise(spec, spec.max) : middle];
      }),
  );
}

test('a scope of two sections on three strips changes those and nothing else on the whole desk', async () => {
  const scene = (await rig.capture('Before the hands')).body;
  rig.front.hands(scramble(900));
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length >= 900);
  const before = held();
  const scope: Scope = [{ strips: ['in.1', 'in.4', 'in.7'], sections: ['fader', 'eq'], include: true }];
  const { changes } = await rig.preview(scene.id, scope);
  const restore = await rig.restore(scene.id, scope);
  expect([restore.status, restore.report?.confirmed]).toEqual(['confirmed', changes.length]);
  expect(changes.length).toBeGreaterThan(5);
  expect(differing(held(), before).sort()).toEqual(changes.map((c) => c.address).sort());
  const stored = flat(await rig.stateOf(scene.id));
  for (const { address } of changes) {
    expect(address).toMatch(/^in\.[147]\/(fader|eq)\//);
    expect(held()[address]).toBe(stored[address]);
  }
});

test('the way back leads to where the desk was, setting for setting', async () => {
  const before = held();
  const restore = await rig.restore((await rig.scene('Low tide')).id, ALL_EXCEPT_GLOBALS);
  expect(differing(held(), before).length).toBeGreaterThan(20);
  const back = await rig.restore(restore.wayBack!.sceneId, restore.wayBack!.scope);
  expect(back.status).toBe('confirmed');
  expect(differing(held(), before)).toEqual([]);
});

test('safe strips and globals stay, although everything is asked for', async () => {
  rig.front.hands({ 'in.47/fader/level': -55, 'main.2/fader/level': -55, 'desk.1/monitor/level': -11 });
  await rig.restore((await rig.scene('Low tide')).id, ALL_EXCEPT_GLOBALS);
  expect(held()).toMatchObject({ 'in.47/fader/level': -55, 'main.2/fader/level': -55, 'desk.1/monitor/level': -11 });
});

test.each([
  ['a perfect line', {}],
  ['10 % of the packets lost each way', { loss: 0.1, seed: 3 }],
  ['30 % lost, reordered and delayed by up to 50 ms', { loss: 0.3, reorder: 0.3, delay: 50, seed: 5 }],
])('500 settings come back and every one is confirmed: %s', async (_, faults) => {
  const scene = (await rig.capture(`Five hundred, ${JSON.stringify(faults)}`)).body;
  const moves = scramble(500);
  rig.front.hands(moves);
  const others = held();
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 500);
  rig.front.misbehave(faults);
  const start = performance.now();
  const restore = await rig.restore(scene.id, ALL_EXCEPT_GLOBALS);
  const total = Math.round(performance.now() - start);
  rig.front.misbehave({});
  expect(restore).toMatchObject({
    status: 'confirmed',
    changes: 500,
    report: { confirmed: 500, unconfirmed: [], handled: [] },
  });
  expect(differing(held(), flat(await rig.stateOf(scene.id)))).toEqual([]);
  expect(differing(held(), others).sort()).toEqual(Object.keys(moves).sort());
  console.log(
    `500 settings, ${JSON.stringify(faults)}: confirmed in ${restore.report?.milliseconds} ms, ${total} ms from asking to hearing of it`,
  );
});

test('where what is safe has changed since the preview, nothing is sent, and the answer says so', async () => {
  const scene = await rig.scene('Saltmarsh reel');
  const { fingerprint } = await rig.preview(scene.id, ALL_EXCEPT_GLOBALS);
  const safes = [...rig.desk.safes];
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [...safes, { strips: ['in.1'], sections: ['eq'] }] });
  const before = held();
  const answer = await rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS, { fingerprint });
  expect([answer.status, (answer.body as unknown as { type: string }).type]).toEqual([409, 'urn:old-echo:desk-moved']);
  expect(differing(held(), before)).toEqual([]);
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes });
});

test('what the desk refuses is named, with what it holds instead, and the rest is confirmed', async () => {
  const scene = (await rig.capture('To be refused')).body;
  rig.front.hands({ 'in.1/fader/level': -50, 'in.2/fader/level': -50 });
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 2);
  rig.front.refuse(['in.1/fader/level']);
  const { status, report } = await rig.restore(scene.id, ALL_EXCEPT_GLOBALS);
  expect([status, report?.confirmed]).toEqual(['incomplete', 1]);
  expect(report?.unconfirmed).toEqual([
    expect.objectContaining({
      address: 'in.1/fader/level',
      found: -50,
      why: expect.stringContaining('refused') as string,
    }),
  ]);
});

test('48 V under an open strip: muted first, opened again, and open at the end', async () => {
  const scene = (await rig.capture('Power as it was')).body;
  rig.front.hands({ 'in.1/mute/on': false, 'in.1/preamp/phantom': held()['in.1/preamp/phantom'] !== true });
  await until(
    async () =>
      (await rig.preview(scene.id, [{ strips: ['in.1'], sections: ['preamp'], include: true }])).guarded.length === 1,
  );
  const page = await rig.page();
  const { status, report } = await rig.restore(scene.id, [{ strips: ['in.1'], sections: ['preamp'], include: true }]);
  expect([status, report?.leftMuted]).toEqual(['confirmed', []]);
  const told = () =>
    page.told.flatMap((m) =>
      m.type === 'settings-changed'
        ? Object.keys(m.settings)
            .filter((a) => /^in.1.(mute|preamp)/.test(a))
            .map((a) => [a, m.settings[a]])
        : [],
    );
  await until(() => told().at(-1)?.[1] === false && told().length >= 3);
  page.close();
  const phantom = flat(await rig.stateOf(scene.id))['in.1/preamp/phantom'];
  expect(told()).toEqual([
    ['in.1/mute/on', true],
    ['in.1/preamp/phantom', phantom],
    ['in.1/mute/on', false],
  ]);
});

test('a hand on the desk wins: what it moved is left where it put it, and named; the rest of its strip comes back', async () => {
  const scene = (await rig.capture('Before the hand')).body;
  const moves = scramble(400);
  rig.front.hands(moves);
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 400);
  rig.front.misbehave({ delay: 80, seed: 2 });
  const page = await rig.page();
  const { id } = (await rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS)).body;
  await until(() => page.told.some((m) => m.type === 'restore' && m.restore.progress !== null));
  rig.front.hands({ 'in.7/fader/level': -13.7, 'in.7/pan/position': 66 });
  const { report } = await rig.ended(id);
  page.close();
  expect(held()).toMatchObject({ 'in.7/fader/level': -13.7, 'in.7/pan/position': 66 });
  const left = (report?.unconfirmed ?? []).map(({ address }) => address);
  expect(left.filter((address) => !['in.7/fader/level', 'in.7/pan/position'].includes(address))).toEqual([]);
  expect(report?.handled.length).toBe(left.length);
  for (const name of report?.handled ?? []) expect(name).toMatch(/^Wren vox (fader|pan)/);
});

test('the link is cut in the middle: the report is honest, and once it returns the way back works', async () => {
  const scene = (await rig.capture('Before the cut')).body;
  rig.front.hands(scramble(600));
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 600);
  const before = held();
  rig.front.misbehave({ delay: 40, seed: 4 });
  const page = await rig.page();
  const { id } = (await rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS)).body;
  await until(() => page.told.some((m) => m.type === 'restore' && m.restore.progress?.stage === 'process'));
  rig.front.freeze(true);
  const restore = await rig.ended(id);
  page.close();
  const { report } = restore;
  expect(restore.status).toBe('incomplete');
  expect((report?.confirmed ?? 0) + (report?.unconfirmed.length ?? 0)).toBe(600);
  expect(report?.unconfirmed.length).toBeGreaterThan(0);
  // Nothing is claimed that is not so: every setting called confirmed stands on the desk.
  const open = new Set(report?.unconfirmed.map((u) => u.address));
  const stored = flat(await rig.stateOf(scene.id));
  expect(differing(held(), stored).filter((address) => !open.has(address))).toEqual([]);

  const lost = await rig.get<DeskView>(`/desks/${rig.desk.id}`);
  expect(lost.body.link).toEqual({ state: 'unlinked', why: 'Quay 48 stopped answering.' });
  expect((await rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS, { fingerprint: '0'.repeat(64) })).status).toBe(503);
  expect((await rig.capture('Not now')).status).toBe(503);

  rig.front.misbehave({});
  rig.front.freeze(false);
  await rig.linked();
  const back = await rig.restore(restore.wayBack!.sceneId, restore.wayBack!.scope);
  expect(back.status).toBe('confirmed');
  expect(differing(held(), before)).toEqual([]);
});

test('one restore at a time: the second is told', async () => {
  const scene = (await rig.capture('For two')).body;
  rig.front.hands(scramble(300));
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 300);
  rig.front.misbehave({ delay: 60, seed: 9 });
  const answers = await Promise.all([
    rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS),
    rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS),
  ]);
  expect(answers.map((a) => a.status).sort()).toEqual([202, 423]);
  await rig.ended(answers.find((a) => a.status === 202)!.body.id);
});

test('a server that stops in the middle says so when it is back, and offers the way back', async () => {
  const db = rig.admin();
  const confirmed = await rig.restore((await rig.scene('Night Ferry')).id, ALL_EXCEPT_GLOBALS);
  // As a killed server leaves it: the journal says running, and the lease runs out.
  await db.raw("UPDATE ??.restores SET status = 'running', report = NULL WHERE id = ?", [rig.database, confirmed.id]);
  await db.raw('UPDATE ??.desks SET lease_holder_id = ?, lease_until = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND', [
    rig.database,
    confirmed.id,
  ]);
  await db.destroy();
  await rig.running.close();
  await rig.start();
  const { body } = await rig.get<RestoreView>(`/restores/${confirmed.id}`);
  expect(body).toMatchObject({ status: 'interrupted', wayBack: confirmed.wayBack });
  expect((await rig.restore(body.wayBack!.sceneId, body.wayBack!.scope)).status).toBe('confirmed');
});
