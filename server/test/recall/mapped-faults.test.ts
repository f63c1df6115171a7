import type { DeskView } from '@old-echo/core/contracts/desk';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { type Recall, resumeRecall, sceneRecall } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { parseProfile } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import type { Journal } from '@old-echo/core/recall/recall-target';
import { ALL_WITH_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { WeirFront } from '@old-echo/stand-in/weir-front';
import { faultRow } from '@old-echo/testing/fault-rows';
import { weirSource } from '@old-echo/testing/profiles';
import { FULL } from '@old-echo/testing/runs';

import { flat, Rig, until } from '../server-rig';
import { expectAt, wasIn } from './fault-steps';

jest.setTimeout(FULL ? 3_600_000 : 300_000);

/* What docs/faults.md promises of a desk with a language of its own, which numbers nothing and refuses nothing aloud. */

const front = new WeirFront(new SimulatedDesk(parseProfile(weirSource)));
const held = () => front.desk.settings();
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

let rig: Rig;
let port: number;
let versionId: string;
beforeAll(async () => {
  port = await front.open(0);
  rig = await Rig.open();
  await rig.post('/profiles', { source: weirSource });
  const desk = { name: 'Weir', profileId: 'weir-16', mode: 'studio', host: '127.0.0.1', port };
  rig.desk = (await rig.post<DeskView>('/desks', desk)).body;
  await rig.linked();
  const song = { deskId: rig.desk.id, name: 'Low water', kind: 'song' };
  const { id } = (await rig.post<ProductionView>('/productions', song)).body;
  const all = (await rig.get<ProductionView[]>('/productions')).body;
  versionId = all.find((one) => one.id === id)!.versions[0]!.id;
});
afterAll(async () => {
  await rig.close();
  await front.close();
});
afterEach(async () => {
  front.misbehave({});
  front.freeze(false);
  front.refuse([]);
  await rig.linked();
});

const MOVED = /^in\.\d+\/(fader\/level|mute\/on|sends\/mix\.[12]\/level|eq\/2\/gain)$/;

/** Faders, sends and EQ of all 16 inputs at some values; of four inputs one stays open, one closed, one opens and one closes. */
const placed = ({ level, gain, muted }: { level: number; gain: number; muted: readonly number[] }): SettingsByAddress =>
  Object.fromEntries(
    Object.keys(held())
      .filter((address) => MOVED.test(address))
      .map((address): [string, Value] => {
        if (address.endsWith('/on')) return [address, muted.includes(Number(/\d+/.exec(address)?.[0]) % 4)];
        return [address, address.endsWith('/gain') ? gain : level];
      }),
  );

/** Hands on the desk, once the server has heard them. */
async function handsAt(moves: SettingsByAddress): Promise<void> {
  front.hands(moves);
  await until(async () => {
    const state = flat((await rig.get<State>(`/desks/${rig.desk.id}/state`)).body);
    return Object.entries(moves).every(([address, value]) => state[address] === value);
  });
}

/** A recall of what stood before hands pulled all of that down. */
async function captured(name: string): Promise<Recall> {
  await handsAt(placed({ level: -20, gain: 3, muted: [1, 2] }));
  const scene = (await rig.post<SceneView>(`/desks/${rig.desk.id}/captures`, { versionId, name })).body;
  await handsAt(placed({ level: -40, gain: -3, muted: [1, 3] }));
  return sceneRecall(rig.desk.id, scene.id, ALL_WITH_GLOBALS);
}
const unlinked = () =>
  until(async () => (await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body.link.state === 'unlinked');
const journal = async (id: string) => (await rig.get<Journal>(`/restores/${id}/journal`)).body;

test('30 % of the packets lost: all confirmed, nothing outside the preview', async () => {
  const recall = await captured('Through a bad line');
  const before = held();
  front.misbehave({ loss: 0.3, seed: 11 });
  const restore = await rig.ended((await rig.beginNow(recall)).id);
  front.misbehave({});
  expect([restore.status, restore.report?.confirmed]).toEqual(['confirmed', restore.changes]);
  expectAt('finish', await journal(restore.id), before, held());
  faultRow(
    '30 % lost, by a link map',
    `${restore.changes} settings`,
    `${restore.report?.confirmed} confirmed in ${restore.report?.milliseconds} ms, none outside the preview`,
  );
});

const stages = FULL ? ['guard', 'process', 'level', 'release', 'verify'] : ['level'];
test.each(stages.flatMap((stage) => [['frozen for 5 s', stage] as const, ['off and on', stage] as const]))(
  'the desk is %s in the stage %s: the report is honest, and both ends can be reached',
  async (fault, stage) => {
    for (const how of ['finish', 'roll back'] as const) {
      const recall = await captured(`${fault} in ${stage}, ${how}`);
      const before = held();
      front.misbehave({ delay: stage === 'verify' ? 200 : 20, seed: 3 });
      const page = await rig.page();
      const { id } = await rig.beginNow(recall, { fade: 1 });
      await until(() => wasIn(page.told, stage));
      page.close();
      const isOff = fault === 'off and on';
      if (isOff) await front.close();
      else front.freeze(true);
      // However busy this machine is: until the server has missed the desk.
      await Promise.all([unlinked(), pause(isOff ? 3000 : 5000)]);
      if (isOff) await front.open(port);
      else front.freeze(false);
      front.misbehave({});
      const { status, report } = await rig.ended(id);
      const plan = await journal(id);
      const open = new Set(report?.unconfirmed.map(({ address }) => address));
      for (const { address, to } of plan.changes)
        if (!open.has(address)) expect([address, held()[address]]).toEqual([address, to]);
      expect(status).toBe('incomplete');
      await rig.linked();
      expect((await rig.ended((await rig.beginNow(resumeRecall(rig.desk.id, id, how))).id)).status).toBe('confirmed');
      expectAt(how, plan, before, held());
      faultRow(
        `${fault} in ${stage}, by a link map`,
        how,
        `${report?.confirmed} of ${plan.changes.length} confirmed at the fault; then the whole desk as promised`,
      );
    }
  },
);

test('what it does not take is named, and nothing else is', async () => {
  const recall = await captured('Not taken');
  front.refuse(['in.2/fader/level']);
  const { status, report } = await rig.ended((await rig.beginNow(recall)).id);
  expect(status).toBe('incomplete');
  expect(report?.unconfirmed.map(({ address, why }) => [address, why])).toEqual([
    ['in.2/fader/level', 'The desk did not accept it.'],
  ]);
  faultRow('a value it does not take, by a link map', '1 of 72 settings', 'named, the others confirmed');
});

test.each([
  ['', 0],
  // What was sent before the hands arrives after them.
  [' on a slow line', 40],
])('hands move 8 faders during a fade%s: each is left where it was put, and all are named', async (line, delay) => {
  const recall = await captured(`Before the hands${line}`);
  const { id } = await rig.beginNow(recall, { fade: 2 });
  const level = () => Number(held()['in.1/fader/level']);
  await until(() => level() > -35);
  front.misbehave({ delay, seed: 5 });
  await pause(delay);
  const hands = Object.fromEntries(Array.from({ length: 8 }, (_, i) => [`in.${i * 2 + 1}/fader/level`, -43.3 - i]));
  front.hands(hands);
  const { report } = await rig.ended(id);
  expect(held()).toMatchObject(hands);
  expect(report?.handled.toSorted()).toEqual(
    Object.keys(hands)
      .map((address) => `Input ${/\d+/.exec(address)?.[0]} fader`)
      .toSorted(),
  );
  const plan = await journal(id);
  for (const { address, to } of plan.changes)
    if (!(address in hands)) expect([address, held()[address]]).toEqual([address, to]);
  // A fader, two sends and an EQ gain of 16 inputs, and the mutes of 8.
  expect(plan.changes).toHaveLength(72);
  faultRow(
    `hands on 8 of 16 faders during a fade${line}, by a link map`,
    '8 hands',
    '8 left where they were put and named',
  );
});
