import type { MixNoteView } from '@old-echo/core/contracts/mix-note';
import type { OutboardView } from '@old-echo/core/contracts/outboard';
import type { VenueView } from '@old-echo/core/contracts/part';
import type { PresetView } from '@old-echo/core/contracts/preset';
import type { StemView } from '@old-echo/core/contracts/sound';
import { writeWav } from '@old-echo/core/signal/wav';
import { sine } from '@old-echo/testing/sounds';

import { Rig, until } from '../server-rig';
import { api, bring, download, leaves, upload } from './file-steps';

jest.setTimeout(120_000);

/** Somebody who has everything, and a colleague whose Old Echo is empty. */
let rig: Rig;
let colleague: Rig;
beforeAll(async () => {
  rig = await Rig.open();
  colleague = await Rig.open({}, { bare: true });
});
afterAll(async () => {
  await rig.close();
  await colleague.close();
});

const send = async <T>(of: Rig, method: string, path: string, bytes: Uint8Array, type: string) =>
  (await (
    await fetch(api(of, path), { method, headers: { 'content-type': type }, body: Buffer.from(bytes) })
  ).json()) as T;
const library = async (of: Rig) => (await of.get<PresetView[]>('/presets')).body.filter((one) => !one.binnedAt);
const told = (list: readonly PresetView[]) =>
  list.map(({ kind, name, folder, note }) => [kind, name, folder, note].join()).sort();

// The smallest picture that is one: what a JPEG begins with.
const PHOTO = Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 16, 0x4a, 0x46, 0x49, 0x46]);

test('a library opens on an empty Old Echo preset by preset, and the second time says that all of it is here', async () => {
  const file = (await upload(colleague, await download(rig, '/exports/presets'))).body;
  const own = await library(rig);
  expect(file.what).toBe(`${own.length} presets of a library.`);
  expect(file.branches.every(({ here }) => here === 'new')).toBe(true);
  const [first] = leaves(file.branches);
  expect((await bring(colleague, file, (id) => id === first)).status).toBe('done');
  expect(await library(colleague)).toHaveLength(1);
  expect((await bring(colleague, file)).why).toBe(
    `1 of ${own.length} presets was already here, unchanged, and stays once.`,
  );
  expect(told(await library(colleague))).toEqual(told(own));
  const again = (await upload(colleague, await download(rig, '/exports/presets'))).body;
  expect(again.branches.every(({ here }) => here === 'same')).toBe(true);
  expect((await bring(colleague, again)).why).toBe(
    'All of them were already here, unchanged. Nothing had to be imported.',
  );
  expect(await library(colleague)).toHaveLength(own.length);
});

test('a preset that is here otherwise comes in beside it under a name of its own, or takes its place', async () => {
  const [one] = await library(rig);
  const bytes = await download(rig, `/exports/presets/${one!.id}`);
  const changed = JSON.parse(bytes.toString()) as { presets: { content: Record<string, Record<string, unknown>> }[] };
  const [strip] = Object.keys(changed.presets[0]!.content);
  const keys = changed.presets[0]!.content[strip!]!;
  const key = Object.keys(keys).find((name) => typeof keys[name] === 'boolean')!;
  keys[key] = keys[key] !== true;
  const file = (await upload(colleague, Buffer.from(JSON.stringify(changed)))).body;
  expect(file.branches[0]?.here).toBe('different');
  const before = await library(colleague);
  await bring(colleague, file);
  const beside = await library(colleague);
  expect(beside).toHaveLength(before.length + 1);
  expect(new Set(beside.map(({ kind, name }) => `${kind} ${name}`)).size).toBe(beside.length);
  await bring(colleague, (await upload(colleague, bytes)).body, undefined, { replace: true });
  expect((await library(colleague)).filter(({ name }) => name === one!.name)).toHaveLength(1);
});

test('a show goes over with its parts, venues, devices with their photos, stems and mix notes', async () => {
  const at = `/productions/${rig.production.id}`;
  await rig.call('PUT', `${at}/parts`, { parts: { 'in.1': 'fiddle' } });
  await rig.post(`${at}/venues`, { name: 'Harbour Hall' });
  const [venue] = (await rig.get<VenueView[]>(`${at}/venues`)).body;
  await rig.post(`${at}/venues/${venue!.id}/capture`, {});
  const device = { name: 'Tape echo', controls: [{ name: 'Time', value: '3' }], note: 'Left of the desk' };
  const [entered] = (await rig.post<OutboardView[]>(`${at}/outboard`, device)).body;
  for (const bytes of [Buffer.from('no picture'), Buffer.alloc(0)]) {
    const to = `${at}/outboard/${entered!.id}/photo`;
    const refused = await send<{ title: string }>(rig, 'PUT', to, bytes, 'image/jpeg');
    expect(refused.title).toBe('Not a JPEG, PNG or WebP picture.');
  }
  await send(rig, 'PUT', `${at}/outboard/${entered!.id}/photo`, PHOTO, 'image/jpeg');
  await send(rig, 'PUT', `${at}/stems/in.1?name=Fiddle.wav`, writeWav(sine(440, -12, 1), '24', false), 'audio/wav');
  await rig.post('/mix-notes', { versionId: rig.production.versions[0]!.id, text: 'More hall' });

  const file = (await upload(colleague, await download(rig, `/exports${at}?sound=true`))).body;
  const done = await bring(colleague, file);
  expect([done.status, done.resultPath]).toEqual(['done', `/mixes/${rig.production.id}`]);
  const both = async <T>(path: string) => [(await rig.get<T>(path)).body, (await colleague.get<T>(path)).body] as const;
  const [parts, theirParts] = await both(`${at}/parts`);
  expect(theirParts).toEqual(parts);
  const [venues, venuesOf] = await both<VenueView[]>(`${at}/venues`);
  expect(venuesOf.map(({ id: _, ...words }) => words)).toEqual(venues.map(({ id: _, ...words }) => words));
  const [devices, theirDevices] = await both<OutboardView[]>(`${at}/outboard`);
  const words = (list: OutboardView[]) =>
    list.map(({ name, controls, note, photo }) => ({ name, controls, note, photo }));
  expect(words(theirDevices)).toEqual(words(devices));
  const photo = await fetch(api(colleague, `${at}/outboard/photos/${theirDevices[0]!.photo}`));
  expect([photo.headers.get('content-type'), Buffer.from(await photo.arrayBuffer())]).toEqual(['image/jpeg', PHOTO]);
  const [stems, theirStems] = await both<StemView[]>(`${at}/stems`);
  expect(theirStems.map(({ strip, hash, seconds }) => [strip, hash, seconds])).toEqual(
    stems.map(({ strip, hash, seconds }) => [strip, hash, seconds]),
  );
  const [mixNotes, mixNotesOf] = await both<MixNoteView[]>(`/mix-notes?version=${rig.production.versions[0]!.id}`);
  expect(mixNotesOf.map(({ text }) => text)).toEqual(mixNotes.map(({ text }) => text));
});

test('a hall that was kept anew by mistake is what it was before, once', async () => {
  const at = `/productions/${rig.production.id}/venues`;
  const [before] = (await rig.get<VenueView[]>(at)).body;
  rig.front.hands({ 'in.1/pan/position': -77 });
  await until(async () => {
    const [now] = (await rig.post<VenueView[]>(`${at}/${before!.id}/capture`, {})).body;
    return now!.settings['fiddle']?.['pan/position'] === -77;
  });
  // Kept twice over: what can be had back is what stood there before the last time.
  expect((await rig.post<VenueView[]>(`${at}/${before!.id}/give-back`, {})).status).toBe(200);
  expect((await rig.post(`${at}/${before!.id}/give-back`, {})).status).toBe(409);
});

test('a device is edited by whoever has it as it is; somebody who is behind is told', async () => {
  const at = `/productions/${rig.production.id}/outboard`;
  const [{ id, revision, name, controls }] = (await rig.get<[OutboardView]>(at)).body;
  const edit = { name, controls, note: 'Right of the desk', revision };
  expect((await rig.call('PATCH', `${at}/${id}`, edit)).status).toBe(200);
  expect((await rig.call('PATCH', `${at}/${id}`, { ...edit, note: 'Gone' })).status).toBe(409);
  expect((await rig.get<[OutboardView]>(at)).body[0].note).toBe('Right of the desk');
});
