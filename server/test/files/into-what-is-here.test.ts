import type { DeskView } from '@old-echo/core/contracts/desk';
import type { FileNode } from '@old-echo/core/contracts/file-transfer';
import type { MixNoteView } from '@old-echo/core/contracts/mix-note';
import type { OutboardView } from '@old-echo/core/contracts/outboard';
import type { VenueView } from '@old-echo/core/contracts/part';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { ScenePage } from '@old-echo/core/contracts/scene';

import { flat, Rig } from '../server-rig';
import { bring, download, leaves, upload } from './file-steps';

jest.setTimeout(120_000);

/** Somebody who has everything, and a colleague who got it as a file. */
let rig: Rig;
let colleague: Rig;
let at = '';
beforeAll(async () => {
  rig = await Rig.open();
  colleague = await Rig.open({}, { bare: true });
  at = `/productions/${rig.production.id}`;
  await rig.call('PUT', `${at}/parts`, { parts: { 'in.1': 'fiddle', 'in.2': 'pipes' } });
  for (const name of ['Harbour Hall', 'The Barn']) await rig.post(`${at}/venues`, { name });
  await rig.post(`${at}/outboard`, { name: 'Tape echo', controls: [], note: '' });
  await rig.post('/mix-notes', { versionId: rig.production.versions[0]!.id, text: 'More hall' });
  await bring(colleague, (await upload(colleague, await download(rig, `/exports${at}`))).body);
});
afterAll(async () => {
  await rig.close();
  await colleague.close();
});

const scenesOf = async (of: Rig) => (await of.get<ScenePage>(`${at}/scenes?limit=200&ownOnly=true`)).body.scenes;
const productions = async (of: Rig) =>
  (await of.get<ProductionView[]>('/productions')).body.filter(({ binnedAt }) => binnedAt === null);
/** What belongs to the show besides its scenes, by name. */
const belongingsOf = async (of: Rig) => ({
  venues: (await of.get<VenueView[]>(`${at}/venues`)).body.map(({ name }) => name),
  outboard: (await of.get<OutboardView[]>(`${at}/outboard`)).body.map(({ name }) => name),
  notes: (await of.get<MixNoteView[]>(`/mix-notes?version=${rig.production.versions[0]!.id}`)).body.map(
    ({ text }) => text,
  ),
});
const bringInto = async (of: Rig, path: string, from: Rig, takes: (id: string) => boolean = () => true) => {
  const file = (await upload(of, await download(from, path))).body;
  return bring(of, file, takes, { intoId: rig.production.id });
};

test('what a colleague added comes back into the song it is from: only what is new, numbered on, with its parents', async () => {
  const [last] = await scenesOf(colleague);
  const copied = await colleague.post<{ id: string }>(`/scenes/${last!.id}/copy`, { versionId: last!.versionId });
  expect(copied.status).toBe(201);
  await colleague.post('/mix-notes', {
    versionId: rig.production.versions[0]!.id,
    text: 'Less pipes',
    sceneId: last!.id,
  });
  const before = await scenesOf(rig);
  const belongings = await belongingsOf(rig);
  const { status, why, resultPath } = await bringInto(rig, `/exports${at}`, colleague);
  expect([status, why, resultPath]).toEqual([
    'done',
    `1 scene came in; ${before.length} were already in Night Ferry, and stay once.`,
    `/mixes/${rig.production.id}`,
  ]);
  const [added, ...rest] = await scenesOf(rig);
  expect(rest.map(({ id }) => id)).toEqual(before.map(({ id }) => id));
  expect([added!.number, added!.parents]).toEqual([before[0]!.number + 1, [last!.id]]);
  expect(flat(await rig.stateOf(added!.id))).toEqual(flat(await colleague.stateOf(copied.body.id)));
  const { notes } = belongings;
  expect(await belongingsOf(rig)).toEqual({ ...belongings, notes: [...notes, 'Less pipes'] });
  const version = (await productions(rig))
    .flatMap(({ versions }) => versions)
    .find(({ id }) => id === added!.versionId);
  expect([version!.name, version!.fromSceneId]).toEqual(['The show 2', last!.id]);
});

test('the second time nothing is new, and nothing is made', async () => {
  const before = await scenesOf(rig);
  const versions = (await productions(rig)).map((one) => one.versions.length);
  const { status, why } = await bringInto(rig, `/exports${at}`, colleague);
  expect([status, why]).toEqual(['done', expect.stringMatching(/^0 scenes came in; \d+ were already in Night Ferry/)]);
  expect(await scenesOf(rig)).toHaveLength(before.length);
  expect((await productions(rig)).map((one) => one.versions.length)).toEqual(versions);
});

test('one venue is a file, and of a file one venue comes in alone', async () => {
  const barn = async () => (await rig.get<VenueView[]>(`${at}/venues`)).body.find(({ name }) => name === 'The Barn');
  const removeBarn = async () => {
    await rig.call('DELETE', `${at}/venues/${(await barn())!.id}`);
    expect(await barn()).toBeUndefined();
  };
  const before = await scenesOf(rig);
  const besides = ['versions', 'mixNotes', 'parts', 'outboard', 'scopes', 'presets', 'atHand', 'safes'];
  const others = (await colleague.get<VenueView[]>(`${at}/venues`)).body.filter(({ name }) => name !== 'The Barn');
  const without = [...besides, ...others.map(({ name }) => `venues/${name}`)];
  const alone = `/exports${at}?${without.map((id) => `without=${encodeURIComponent(id)}`).join('&')}`;
  for (const path of [`/exports${at}`, alone]) {
    await removeBarn();
    const done = await bringInto(rig, path, colleague, (id) => id === 'venues/The Barn');
    expect([done.status, done.why]).toEqual(['done', '']);
    expect(await barn()).toBeDefined();
  }
  const only = (await upload(rig, await download(colleague, alone))).body;
  expect(leaves(only.branches)).toEqual(['venues/The Barn']);
  expect(await scenesOf(rig)).toHaveLength(before.length);
});

test('a song that is gone, or is of another desk, is refused with what to do', async () => {
  const file = (await upload(rig, await download(rig, `/exports${at}`))).body;
  const skiff = (await rig.get<DeskView[]>('/desks')).body.find(({ name }) => name === 'Skiff 16')!;
  const other = (await rig.post<ProductionView>('/productions', { name: 'Reel', kind: 'song', deskId: skiff.id })).body;
  expect(file.into.map(({ id }) => id)).not.toContain(other.id);
  for (const intoId of ['01ARZ3NDEKTSV4RRFFQ69G5FAV', other.id])
    expect(await bring(rig, file, undefined, { intoId })).toMatchObject({
      status: 'failed',
      why: expect.stringContaining('The song or show it was to go into is gone, or is not of a Quay 48.') as string,
    });
});

test('a scene goes into the song that is chosen', async () => {
  const [scene] = await scenesOf(rig);
  await rig.post('/productions', { name: 'Encore', kind: 'song', deskId: rig.desk.id });
  const file = (await upload(rig, await download(rig, `/exports/scenes/${scene!.id}`))).body;
  expect(file.into.map(({ name }) => name)).toEqual(['Night Ferry', 'Encore']);
  const target = file.into.at(-1)!;
  const { resultPath } = await bring(rig, file, undefined, { intoId: target.id });
  expect(resultPath).toMatch(new RegExp(`^/mixes/${target.id}/scene/`));
});

test('what can be saved is the tree that is opened, and what is taken out of it is not in the file', async () => {
  const contents = (await rig.get<FileNode[]>(`/exports${at}/contents`)).body;
  const bare = (tree: readonly FileNode[]): unknown[] =>
    tree.map(({ id, name, children }) => [id.startsWith('presets/') ? 'preset' : id, name, bare(children)]);
  const whole = (await upload(colleague, await download(rig, `/exports${at}?autosaves=true&sound=true`))).body;
  expect(bare(whole.branches)).toEqual(bare(contents));
  const without = ['sections/eq', 'venues/The Barn', 'mixNotes', 'safes'].map((id) => `without=${id}`).join('&');
  const file = (await upload(colleague, await download(rig, `/exports${at}?${without}`))).body;
  expect(leaves(file.branches)).toEqual(expect.arrayContaining(['venues/Harbour Hall', 'parts']));
  for (const id of ['venues/The Barn', 'mixNotes', 'safes']) expect(leaves(file.branches)).not.toContain(id);
  await bring(colleague, file);
  const [copy] = (await productions(colleague)).filter(({ id }) => id !== rig.production.id);
  const [newest] = (await colleague.get<ScenePage>(`/productions/${copy!.id}/scenes?limit=1`)).body.scenes;
  const [own] = await scenesOf(rig);
  const state = flat(await colleague.stateOf(newest!.id));
  expect(state).toEqual(
    Object.fromEntries(
      Object.entries(flat(await rig.stateOf(own!.id))).filter(([address]) => !address.includes('/eq/')),
    ),
  );
});
