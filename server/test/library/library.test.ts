import type { PresetDetail, PresetOrigin, PresetView, StagedSettings } from '@old-echo/core/contracts/preset';
import type { Problem } from '@old-echo/core/contracts/problem';
import { type RestoreView, stagedRecall } from '@old-echo/core/contracts/restore';
import { defaultState, type State } from '@old-echo/core/desk/state';
import type { Preview } from '@old-echo/core/recall/planned-changes';
import { quay } from '@old-echo/testing/profiles';

import { Rig, until } from '../server-rig';

jest.setTimeout(60_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const strip = (keys: Record<string, unknown>) => ({ 'in.1': { ...defaultState(quay)['in.1'], ...keys } }) as State;
const preset = (name: string, keys: Record<string, unknown>, more: object = {}) =>
  rig.post<PresetView & Problem>('/presets', {
    kind: 'strip',
    name,
    profileId: 'quay-48',
    content: strip(keys),
    ...more,
  });
const library = async () => (await rig.get<PresetView[]>('/presets')).body;

test('the starter set is there, each with a line that says why', async () => {
  const all = await library();
  expect(all.length).toBeGreaterThanOrEqual(30);
  expect(all.filter(({ note }) => note.length < 40)).toEqual([]);
  expect(new Set(all.map(({ kind }) => kind))).toEqual(new Set(['strip', 'processor', 'bus', 'strip set', 'template']));
});

test('a name that exists asks: replace, and the old one is in the bin; keep both, and one has another name', async () => {
  const first = (await preset('Voice of mine', { 'eq/2/gain': 1 })).body;
  expect((await preset('Voice of mine', { 'eq/2/gain': 2 })).body).toMatchObject({
    status: 409,
    title: 'The library already has a preset called Voice of mine.',
  });
  const both = (await preset('Voice of mine', { 'eq/2/gain': 2 }, { taken: 'keep both' })).body;
  expect(both.name).toBe('Voice of mine 2');
  const third = (await preset('Voice of mine', { 'eq/2/gain': 3 }, { taken: 'replace' })).body;
  expect(third.name).toBe('Voice of mine');
  expect((await library()).find(({ id }) => id === first.id)?.binnedAt).not.toBeNull();
  // It comes back under another name, with what it held.
  const back = (await rig.post<PresetView>(`/presets/${first.id}/unbin`, {})).body;
  expect([back.name, back.binnedAt]).toEqual(['Voice of mine 3', null]);
  const { content } = (await rig.get<PresetDetail>(`/presets/${first.id}`)).body;
  expect(content['in.1']?.['eq/2/gain']).toBe(1);
});

test('what the desk would refuse is not saved, and it says where', async () => {
  const answer = await preset('Wrong', { 'eq/2/gain': 400 });
  expect(answer.body).toMatchObject({ status: 422, where: 'in.1/eq/2/gain' });
  expect((await library()).some(({ name }) => name === 'Wrong')).toBe(false);
});

test('an edition can be had back, and two people do not write over one another', async () => {
  const made = (await preset('Edited', { 'eq/2/gain': 1 })).body;
  const next = { content: strip({ 'eq/2/gain': 5 }), by: 'Tam', revision: made.revision };
  const second = (await rig.post<PresetView>(`/presets/${made.id}/editions`, next)).body;
  expect([second.edition, second.by]).toEqual([2, 'Tam']);
  expect((await rig.post(`/presets/${made.id}/editions`, next)).status).toBe(409);
  await rig.post(`/presets/${made.id}/editions`, { edition: 1, revision: second.revision });
  const whole = (await rig.get<PresetDetail>(`/presets/${made.id}`)).body;
  expect(whole.content['in.1']?.['eq/2/gain']).toBe(1);
  expect([whole.edition, whole.earlier.map(({ edition }) => edition)]).toEqual([3, [2, 1]]);
});

test('of one kind fresh ones start from one preset alone; words are edited by whoever has them as they are', async () => {
  const edit = async (id: string, words: object) => {
    const { revision } = (await rig.get<PresetView>(`/presets/${id}`)).body;
    return rig.call<PresetView & Problem>('PATCH', `/presets/${id}`, { ...words, revision });
  };
  const [one, other] = [(await preset('Fresh one', {})).body, (await preset('Fresh other', {})).body];
  const eq = { 'in.1': { 'eq/on': true, 'eq/2/gain': -2 } };
  const processor = await preset('Fresh EQ', {}, { kind: 'processor', content: eq });
  const starting = async () => (await library()).flatMap(({ name, starts }) => (starts ? [name] : []));
  expect((await edit(one.id, { starts: true })).body.starts).toBe(true);
  await edit(processor.body.id, { starts: true });
  expect((await starting()).sort()).toEqual(['Fresh EQ', 'Fresh one']);
  await edit(other.id, { starts: true });
  expect((await starting()).sort()).toEqual(['Fresh EQ', 'Fresh other']);
  // What goes to the bin starts nothing any more, nor when it is back.
  await rig.post(`/presets/${other.id}/bin`, {});
  await rig.post(`/presets/${other.id}/unbin`, {});
  expect(await starting()).toEqual(['Fresh EQ']);

  const told = await edit(one.id, { name: 'Voice, far', folder: 'Choir', tags: ['far'], note: 'From the back row.' });
  expect(told.body).toMatchObject({ name: 'Voice, far', folder: 'Choir', tags: ['far'], note: 'From the back row.' });
  expect((await edit(one.id, { name: 'Fresh other' })).status).toBe(409);
  const behind = { note: 'Mine', revision: one.revision };
  expect((await rig.call('PATCH', `/presets/${one.id}`, behind)).status).toBe(409);
  expect((await rig.get<PresetView>(`/presets/${one.id}`)).body).toMatchObject({
    name: 'Voice, far',
    note: 'From the back row.',
  });
  // For good only out of the bin.
  expect((await rig.call('DELETE', `/presets/${one.id}`)).status).toBe(409);
  await rig.post(`/presets/${one.id}/bin`, {});
  expect((await rig.call('DELETE', `/presets/${one.id}`)).status).toBe(200);
  expect((await rig.get(`/presets/${one.id}`)).status).toBe(404);
});

test('a preset reaches the desk by way of its preview: only what it holds moves, strips know it, the way back undoes it', async () => {
  const made = (await preset('On the way', {})).body;
  const before = rig.front.desk.settings();
  const settings = { 'in.20/eq/on': true, 'in.20/eq/2/gain': -6, 'in.21/eq/2/gain': -6, 'in.20/preamp/gain': 33 };
  const put = (
    await rig.post<StagedSettings>('/staged-settings', {
      deskId: rig.desk.id,
      title: 'On the way on two strips',
      settings,
      appliedPresets: ['in.20', 'in.21'].map((one) => ({ strip: one, presetId: made.id, edition: made.edition })),
      gainFromOtherSource: true,
    })
  ).body;
  const recall = stagedRecall(rig.desk.id, put.id);
  const plan = (await rig.post<Preview>(`/desks/${rig.desk.id}/previews`, recall)).body;
  expect(plan.changes.map(({ address }) => address).sort()).toEqual(Object.keys(settings).sort());
  expect(plan.cautions.map(({ kind }) => kind)).toContain('source');
  const ended = await rig.restored(recall);
  expect(ended).toMatchObject({ status: 'confirmed', sceneNumber: 0, sceneName: 'On the way on two strips' });
  const after = rig.front.desk.settings();
  const moved = Object.keys(after).filter((address) => after[address] !== before[address]);
  expect(moved.filter((address) => typeof after[address] !== 'object').sort()).toEqual(Object.keys(settings).sort());
  const origins = (await rig.get<PresetOrigin[]>(`/desks/${rig.desk.id}/preset-origins`)).body;
  expect(origins.map(({ strip: one, presetName }) => [one, presetName])).toEqual([
    ['in.20', 'On the way'],
    ['in.21', 'On the way'],
  ]);
  expect(origins[1]?.appliedSettings).toEqual({ 'in.21/eq/2/gain': -6 });
  // A hand moves one away; written back, the preset is as that strip stands, and the strip is as the preset has it.
  rig.front.hands({ 'in.21/eq/2/gain': 4 });
  await until(async () => (await rig.get<State>(`/desks/${rig.desk.id}/state`)).body['in.21']?.['eq/2/gain'] === 4);
  await rig.post(`/presets/${made.id}/editions`, {
    content: strip({ 'eq/2/gain': 4 }),
    from: { deskId: rig.desk.id, strip: 'in.21' },
    revision: made.revision,
  });
  const renewed = (await rig.get<PresetOrigin[]>(`/desks/${rig.desk.id}/preset-origins`)).body;
  expect(
    renewed.map(({ strip: one, edition, appliedSettings: landed }) => [one, edition, landed['in.21/eq/2/gain']]),
  ).toEqual([
    ['in.20', 1, undefined],
    ['in.21', 2, 4],
  ]);
  const back = ended.wayBack!;
  const undone = await rig.restored({
    ...recall,
    stagedSettingsId: undefined,
    sceneId: back.sceneId,
    scope: [...back.scope],
  });
  expect(undone.status).toBe('confirmed');
  expect(rig.front.desk.settings()).toEqual(before);
});

test('safes win over a preset as over any restore', async () => {
  const settings = { 'in.47/fader/level': 0, 'in.22/fader/level': -30 };
  const put = (await rig.post<StagedSettings>('/staged-settings', { deskId: rig.desk.id, title: 'Both', settings }))
    .body;
  const plan = (await rig.post<Preview>(`/desks/${rig.desk.id}/previews`, stagedRecall(rig.desk.id, put.id))).body;
  expect(plan.changes.map(({ address }) => address)).toEqual(['in.22/fader/level']);
  expect(plan.stays).toContainEqual(expect.objectContaining({ address: 'in.47/fader/level', why: 'safe' }));
});

test('settings that the desk does not have are refused whole, and a placement of another desk too', async () => {
  const wrong = { deskId: rig.desk.id, title: 'Wrong', settings: { 'in.1/fader/level': 0, 'in.99/fader/level': 0 } };
  expect((await rig.post<Problem>('/staged-settings', wrong)).body).toMatchObject({
    status: 422,
    where: 'in.99/fader/level',
  });
  const desks = (await rig.get<{ id: string; name: string }[]>('/desks')).body;
  const other = desks.find(({ name }) => name === 'Skiff 16')!;
  const put = { deskId: other.id, title: 'Elsewhere', settings: { 'in.1/fader/level': 0 } };
  const { id } = (await rig.post<StagedSettings>('/staged-settings', put)).body;
  const answer = await rig.post<Problem & RestoreView>(`/desks/${rig.desk.id}/previews`, stagedRecall(rig.desk.id, id));
  expect(answer.body.title).toBe('That was prepared for another desk.');
});
