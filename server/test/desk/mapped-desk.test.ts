import { readFileSync } from 'node:fs';
import { join } from 'node:path';

import Ajv2020 from 'ajv/dist/2020';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import type { RestoreView } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { LinkTrial } from '@old-echo/core/desk/link-trial';
import type { LoggedMessages } from '@old-echo/core/desk/logged-message';
import { parseProfile } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import { ALL_WITH_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { WeirFront } from '@old-echo/stand-in/weir-front';
import { weirSource } from '@old-echo/testing/profiles';

import { differing, flat, Rig, until } from '../server-rig';

jest.setTimeout(120_000);

/** A desk that speaks an OSC of its own, and says nothing of what its strips are called. */
const front = new WeirFront(new SimulatedDesk(parseProfile(weirSource)), { keepsNames: true });

let rig: Rig;
let place: { host: string; port: number };
beforeAll(async () => {
  rig = await Rig.open();
  place = { host: '127.0.0.1', port: await front.open(0) };
});
afterAll(async () => {
  await rig.close();
  await front.close();
});

interface Source {
  link: { wait: number; pace: number; settings: { setting: string; ask?: unknown }[] };
}

/** The profile that ships, by which its names can be asked for, changed as one says. */
const changed = (change: (link: Source['link']) => void): Source => {
  const source = structuredClone(weirSource) as Source;
  change(source.link);
  return source;
};

const namesUnasked = ({ settings }: Source['link']): void => {
  for (const rule of settings) if (rule.setting.endsWith('/name')) rule.ask = false;
};

const bring = (source: Source) => rig.post<ProfileSummary & Problem>('/profiles', { source });
const attempt = async () => (await rig.post<LinkTrial>('/link-trials', { profileId: 'weir-16', ...place })).body;
const stateOf = async () => flat((await rig.get<State>(`/desks/${desk}/state`)).body);

/** All but what it cannot be asked for. */
const asked = (settings: SettingsByAddress): SettingsByAddress =>
  Object.fromEntries(Object.entries(settings).filter(([address]) => !address.endsWith('/name')));

/** Somewhere else for all that stands on the desk. */
const elsewhere = (): SettingsByAddress =>
  Object.fromEntries(
    Object.entries(asked(front.desk.settings())).map(([address, value]): [string, Value] => {
      if (typeof value === 'boolean') return [address, !value];
      if (typeof value === 'number') return [address, address.endsWith('/level') ? -12 : value / 2 + 2];
      return [address, address.endsWith('/tap') ? 'post' : 'none'];
    }),
  );

let desk: string;
let scene: SceneView;

test('the map that ships is as its schema says, and others are not', () => {
  const path = join(__dirname, '..', '..', '..', 'docs', 'formats', 'link-map.schema.json');
  const holds = new Ajv2020({ strict: false }).compile(JSON.parse(readFileSync(path, 'utf8')) as object);
  const { link } = changed(namesUnasked);
  expect([holds(link), holds.errors]).toEqual([true, null]);
  for (const more of [{ pace: 0 }, { speed: 1 }, { changes: { by: 'asking' } }, { settings: [] }])
    expect(holds({ ...link, ...more })).toBe(false);
});

test('its profile comes in with the map, and a map that is wrong says where', async () => {
  const wrong = changed((link) => (link.settings[0]!.setting = 'in.{n}/fader/lvel'));
  const refused = await bring(wrong);
  expect([refused.status, refused.body.where]).toEqual([422, 'link.settings[0].setting']);
  expect((await bring(changed(() => undefined))).status).toBe(201);
});

test('tried, it says which settings do not answer; with a map that does not ask for them, all is well', async () => {
  const before = await attempt();
  expect([before.answered, before.unanswered, before.unasked, before.lost]).toEqual([518 - 23, 23, 0, 0]);
  expect(before.missing[0]).toBe('in.1/label/name');
  await bring(changed(namesUnasked));
  const after = await attempt();
  expect([after.settings, after.answered, after.unanswered, after.unasked]).toEqual([495, 495, 0, 23]);
  expect(after.roundTrip?.median).toBeLessThan(20);
  await front.close();
  expect((await attempt()).why).toMatch(/^Nothing at 127\.0\.0\.1:\d+ answers \/there\.$/);
  place.port = await front.open(place.port);
});

test('added, it is linked and captured, without what it cannot be asked for', async () => {
  const added = await rig.post<DeskView>('/desks', { name: 'Weir', profileId: 'weir-16', mode: 'studio', ...place });
  desk = added.body.id;
  await until(async () => (await rig.get<DeskView>(`/desks/${desk}`)).body.link.state === 'linked');
  const song = (await rig.post<ProductionView>('/productions', { deskId: desk, name: 'Low water', kind: 'song' })).body;
  const all = (await rig.get<ProductionView[]>('/productions')).body;
  const versionId = all.find(({ id }) => id === song.id)!.versions[0]!.id;
  scene = (await rig.post<SceneView>(`/desks/${desk}/captures`, { versionId, name: 'As found' })).body;
  expect(Object.keys(await stateOf())).toHaveLength(495);
});

const restored = async (sceneId: string): Promise<RestoreView> => {
  const recall = { deskId: desk, sceneId, scope: ALL_WITH_GLOBALS };
  const begun = await rig.post<{ id: string }>(`/desks/${desk}/restores`, { recall, fingerprint: null, answers: [] });
  expect(begun.status).toBe(202);
  return rig.ended(begun.body.id);
};

test.each([0, 0.1])('at a loss of %d, 495 settings that a hand has moved are restored and confirmed', async (loss) => {
  const found = front.desk.settings();
  expect(front.hands(elsewhere())).toBe(495);
  await until(async () => differing(await stateOf(), asked(front.desk.settings())).length === 0);
  front.misbehave({ loss, seed: 5 });
  const { status, report } = await restored(scene.id);
  front.misbehave({});
  expect([status, report?.confirmed, report?.unconfirmed, report?.unasked]).toEqual(['confirmed', 495, [], undefined]);
  expect(differing(front.desk.settings(), found)).toEqual([]);
  console.log(`${report?.confirmed} settings restored in ${report?.milliseconds} ms at a loss of ${loss}`);
});

test('what it cannot be asked for is sent and never called confirmed', async () => {
  const name = (to: string) => rig.post(`/desks/${desk}/settings`, { settings: { 'in.1/label/name': to } });
  expect((await name('Fiddle')).body).toEqual({ unconfirmed: [] });
  expect((await stateOf())['in.1/label/name']).toBe('Fiddle');
  const { versionId } = scene;
  const named = (await rig.post<SceneView>(`/desks/${desk}/captures`, { versionId, name: 'Named' })).body;
  await name('Piano');
  expect(front.desk.settings()['in.1/label/name']).toBe('Piano');
  const { status, report } = await restored(named.id);
  expect([status, report?.confirmed, report?.unasked]).toEqual(['confirmed', 0, ['in.1/label/name']]);
  expect(front.desk.settings()['in.1/label/name']).toBe('Fiddle');
});

test('what goes over its wire is told, with what it means, and as a table', async () => {
  const wire = async (after: number) => (await rig.get<LoggedMessages>(`/desks/${desk}/wire?after=${after}`)).body;
  const { last } = await wire(0);
  front.hands({ 'in.9/fader/level': -33 });
  const loud = async () =>
    (await wire(last)).messages.filter((one) => one.way === 'from the desk' && one.address === '/row/09/loud');
  await until(async () => (await loud()).length > 0);
  expect((await loud())[0]).toMatchObject({
    types: 'f',
    args: [-33],
    settings: [{ setting: 'in.9/fader/level', value: -33 }],
  });
  // Nothing is told twice.
  expect((await wire(last)).messages.every(({ packet }) => packet > last)).toBe(true);
  const table = await fetch(`http://127.0.0.1:${rig.running.port}/api/desks/${desk}/wire/list.csv`);
  expect(table.headers.get('content-disposition')).toBe('attachment; filename="Wire of Weir.csv"');
  const [head, ...lines] = (await table.text()).split('\r\n');
  expect(head).toBe('time,way,address,types,arguments,settings');
  expect(lines.some((line) => line.endsWith(",from the desk,/row/09/loud,f,'-33,in.9/fader/level -33"))).toBe(true);
});

test('with a better map its desks are linked anew, and it is asked for more', async () => {
  await bring(changed(() => undefined));
  // It does not tell its names: then it is not to be had whole, and says so.
  await until(async () => (await rig.get<DeskView>(`/desks/${desk}`)).body.link.state === 'reading');
  await bring(changed(namesUnasked));
  await until(async () => (await rig.get<DeskView>(`/desks/${desk}`)).body.link.state === 'linked');
});

test('at a show, and with other settings, the way to speak to it stays', async () => {
  const locked = (showLock: boolean) => rig.call('PATCH', `/desks/${desk}`, { mode: 'live', showLock });
  await locked(true);
  expect((await bring(changed((link) => (link.pace = 100)))).status).toBe(423);
  await locked(false);
  const other = changed(namesUnasked) as Source & { families: { count: number }[] };
  other.families[1]!.count = 7;
  expect((await bring(other)).body.title).toMatch(/with other settings or ranges|no rule/);
});
