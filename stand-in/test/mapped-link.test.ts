import { cannotBeAsked } from '@old-echo/core/desk/link-map/link-map';
import type { Value } from '@old-echo/core/desk/setting';
import { defaultState, type SettingsByAddress, type State } from '@old-echo/core/desk/state';
import type { DeskLink, LinkEvent } from '@old-echo/desk-link/link';

import type { FrontQuirks } from '../src/weir-front';
import { openWeir, type WeirLink, weirWith } from './weir-desk';

type Opened = Awaited<ReturnType<typeof openWeir>> & { wire: DeskLink; heard: LinkEvent[] };

let opened: Opened | undefined;

async function link(quirks: Partial<FrontQuirks> = {}, change: (link: WeirLink) => void = () => undefined) {
  const weir = await openWeir(quirks, weirWith(change));
  const [wire, heard] = [weir.link(), [] as LinkEvent[]];
  wire.listen((event) => heard.push(event));
  for (let i = 0; !wire.linked && i < 300; i++) await new Promise((resolve) => setTimeout(resolve, 10));
  opened = { ...weir, wire, heard };
  return opened;
}
afterEach(async () => {
  await opened?.wire.close();
  await opened?.front.close();
  opened = undefined;
});

const flat = (state: State): SettingsByAddress =>
  Object.fromEntries(
    Object.entries(state).flatMap(([strip, keys]) =>
      Object.entries(keys).map(([key, value]) => [`${strip}/${key}`, value] as const),
    ),
  );

const ELSEWHERE: Readonly<Record<string, Value>> = {
  level: -20,
  tap: 'post',
  gain: 4.5,
  threshold: -31,
  ratio: 4.5,
  release: 350,
  socket: 'Socket 9',
  name: 'Ferry',
  position: -37,
};

/** Every setting at another value than it stands at. */
const moved = (settings: SettingsByAddress): SettingsByAddress =>
  Object.fromEntries(
    Object.entries(settings).map(([address, value]): [string, Value] => {
      if (typeof value === 'boolean') return [address, !value];
      const key = address.slice(address.lastIndexOf('/') + 1);
      return [address, ELSEWHERE[key] ?? Number(value) * 1.5];
    }),
  );

const UNIT_FADER = {
  points: [
    [-90, 0],
    [-50, 0.1],
    [-20, 0.4],
    [0, 0.75],
    [10, 1],
  ],
};
const onLevels = (link: WeirLink, value: unknown) => {
  link.values['fader'] = value;
  for (const rule of link.settings) if (rule.setting.endsWith('/level')) rule.value = 'fader';
};

test.each<[string, Partial<FrontQuirks>, (link: WeirLink) => void]>([
  ['none', {}, () => undefined],
  ['levels from 0 to 1', { unitLevels: true }, (link) => onLevels(link, UNIT_FADER)],
  [
    'rows counted from 0',
    { zeroBased: true },
    (link) => {
      link.settings = JSON.parse(JSON.stringify(link.settings).replaceAll('{n:2}', '{n-1:2}')) as WeirLink['settings'];
    },
  ],
  ['answers that take up to 150 ms', { late: 150 }, (link) => (link['wait'] = 200)],
  [
    'pushes only while subscribed',
    { tells: 'subscribers' },
    (link) => (link.changes = { by: 'subscription', address: '/keep', every: 500 }),
  ],
  ['no pushes at all', { tells: 'nobody' }, (link) => (link.changes = { by: 'asking', every: 300 })],
  ['SLIP over TCP', { transport: 'tcp' }, (link) => (link['transport'] = 'tcp')],
])('a desk with the quirk %s is read, written, read back, and heard', async (_, quirks, change) => {
  const { desk, wire, front, heard } = await link(quirks, change);
  expect(flat(await wire.readAll())).toEqual(desk.settings());
  const wanted = moved(desk.settings());
  expect(Object.keys(wanted).length).toBe(518);
  await wire.write(wanted);
  expect(await wire.read(Object.keys(wanted))).toEqual(wanted);
  expect(desk.settings()).toMatchObject(wanted);
  front.hands({ 'in.16/fader/level': -10, 'mix.6/mute/on': false });
  await wire.caughtUp();
  const hands = heard.flatMap((event) => (event.type === 'hands' ? [event.settings] : []));
  expect(Object.assign({}, ...hands)).toEqual({ 'in.16/fader/level': -10, 'mix.6/mute/on': false });
});

test('a desk with 64 steps on a fader holds the nearest to what was sent, and that counts as what was sent', async () => {
  const { wire, desk } = await link({ unitLevels: true, levelSteps: 64 }, (map) =>
    onLevels(map, { ...UNIT_FADER, steps: 64 }),
  );
  const wanted = { 'in.1/fader/level': -61.3, 'in.2/fader/level': -33.3, 'in.3/sends/mix.2/level': 0.4 };
  await wire.write(wanted);
  expect(desk.settings()['in.2/fader/level']).not.toBe(-33.3);
  expect(await wire.read(Object.keys(wanted))).toEqual(wanted);
});

test('what shares a message goes along as it is, also where a hand has just moved it', async () => {
  const { wire, desk, front } = await link();
  front.hands({ 'in.4/compressor/threshold': -30, 'in.4/eq/2/gain': 6 });
  await wire.write({ 'in.4/compressor/on': true, 'in.4/eq/2/freq': 1500 });
  await wire.read(['in.4/compressor/on']);
  expect(desk.settings()).toMatchObject({
    'in.4/compressor/on': true,
    'in.4/compressor/threshold': -30,
    'in.4/eq/2/freq': 1500,
    'in.4/eq/2/gain': 6,
  });
});

test('two writes into one message, the second before the first was read back, both hold', async () => {
  const { wire, desk } = await link();
  await Promise.all([
    wire.write({ 'in.4/compressor/on': true }),
    wire.write({ 'in.4/compressor/threshold': -30 }),
    wire.write({ 'in.4/compressor/ratio': 4 }),
  ]);
  await wire.caughtUp();
  expect(desk.settings()).toMatchObject({
    'in.4/compressor/on': true,
    'in.4/compressor/threshold': -30,
    'in.4/compressor/ratio': 4,
  });
});

test('what a hand moved on a desk that tells nothing is not moved back by what shares its message', async () => {
  const { wire, desk, front } = await link(
    { tells: 'nobody' },
    (map) => (map.changes = { by: 'asking', every: 600_000 }),
  );
  await wire.readAll();
  front.hands({ 'in.4/compressor/threshold': -30 });
  await new Promise((resolve) => setTimeout(resolve, 100));
  await wire.write({ 'in.4/compressor/on': true });
  await wire.caughtUp();
  expect(desk.settings()).toMatchObject({ 'in.4/compressor/on': true, 'in.4/compressor/threshold': -30 });
});

test('what was stopped before it was sent does not go along later', async () => {
  const { wire, desk } = await link();
  await wire.readAll();
  await wire.write({ 'in.4/compressor/threshold': -30 }, () => false);
  await wire.write({ 'in.4/compressor/on': true });
  await wire.caughtUp();
  expect(desk.settings()).toMatchObject({ 'in.4/compressor/on': true, 'in.4/compressor/threshold': -18 });
});

test('a hand that goes back to what was sent in vain a moment ago is a hand, and stays where it was put', async () => {
  const { wire, desk, front, heard } = await link();
  front.misbehave({ loss: 1 });
  for (let i = 0; i < 3; i++) await wire.write({ 'in.1/mute/on': true });
  front.misbehave({});
  await wire.write({ 'in.1/mute/on': true });
  await wire.read(['in.1/mute/on']);
  await new Promise((resolve) => setTimeout(resolve, 200));
  for (const on of [false, true]) {
    front.hands({ 'in.1/mute/on': on });
    await wire.caughtUp();
  }
  await new Promise((resolve) => setTimeout(resolve, 150));
  await wire.caughtUp();
  expect(desk.settings()['in.1/mute/on']).toBe(true);
  expect(heard.filter(({ type }) => type === 'hands')).toEqual([
    { type: 'hands', settings: { 'in.1/mute/on': false } },
    { type: 'hands', settings: { 'in.1/mute/on': true } },
  ]);
});

test('what was on its way when a hand moved it is put back, also where that is not taken at first', async () => {
  const { wire, desk, front } = await link();
  await wire.readAll();
  const written = wire.write({ 'in.1/fader/level': -20 });
  front.hands({ 'in.1/fader/level': -37 });
  await written;
  // Looked at after each packet: refused before it can be put back.
  while (desk.settings()['in.1/fader/level'] !== -20) await new Promise((resolve) => setImmediate(resolve));
  front.refuse(['in.1/fader/level']);
  await new Promise((resolve) => setTimeout(resolve, 100));
  expect(desk.settings()['in.1/fader/level']).toBe(-20);
  front.refuse([]);
  await wire.caughtUp();
  expect(desk.settings()['in.1/fader/level']).toBe(-37);
  // Whoever means it moves it, hand or no hand.
  await wire.write({ 'in.1/fader/level': -20 });
  await wire.caughtUp();
  expect(desk.settings()['in.1/fader/level']).toBe(-20);
});

test('what cannot be asked is not in what is read before it was sent, and is what was sent afterwards', async () => {
  const { wire, profile } = await link({ keepsNames: true }, (map) => {
    for (const rule of map.settings) if (rule.setting.endsWith('/name')) rule.ask = false;
  });
  const names = cannotBeAsked(profile.link);
  expect(names).toHaveLength(23);
  const state = flat(await wire.readAll());
  expect(Object.keys(state)).toHaveLength(Object.keys(flat(defaultState(profile))).length - 23);
  await wire.write({ 'in.1/label/name': 'Fiddle' });
  expect(await wire.read(['in.1/label/name', 'in.2/label/name'])).toEqual({ 'in.1/label/name': 'Fiddle' });
});

test('answers that are overtaken by what moved since are no hands', async () => {
  const { wire, desk, heard } = await link({ late: 15 });
  await wire.readAll();
  for (let i = 0; i < 60; i++) {
    void wire.caughtUp();
    await wire.write({ 'in.1/fader/level': -60 + i, 'in.2/sends/mix.1/level': -i });
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  await wire.caughtUp();
  expect(heard.filter(({ type }) => type === 'hands')).toEqual([]);
  expect(desk.settings()).toMatchObject({ 'in.1/fader/level': -1, 'in.2/sends/mix.1/level': -59 });
});

test('a desk that takes longer than its map says is read all the same', async () => {
  const { wire, desk } = await link({ late: 300 });
  expect(flat(await wire.readAll())).toEqual(desk.settings());
});

test('no more is sent in a second than the map allows', async () => {
  const { wire, desk } = await link({ tells: 'nobody' }, (map) => (map.pace = 1000));
  const from = performance.now();
  await wire.readAll();
  // 311 messages at 1000 in a second.
  expect(performance.now() - from).toBeGreaterThan(300);
  expect(desk.settings()['in.1/fader/level']).toBe(-90);
});

test('at 10 % loss each way 518 settings are written until all are read back', async () => {
  const { wire, desk, front } = await link();
  front.misbehave({ loss: 0.1, seed: 3 });
  const wanted = moved(desk.settings());
  let left = wanted;
  for (let round = 0; Object.keys(left).length > 0 && round < 10; round++) {
    await wire.write(left);
    const found = await wire.read(Object.keys(left));
    left = Object.fromEntries(Object.entries(left).filter(([address, value]) => found[address] !== value));
  }
  expect(desk.settings()).toMatchObject(wanted);
});
