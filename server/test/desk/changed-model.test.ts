import type { DeskView } from '@old-echo/core/contracts/desk';
import type { Parts } from '@old-echo/core/contracts/part';
import type { PresetDetail, PresetView } from '@old-echo/core/contracts/preset';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ProfileSummary } from '@old-echo/core/contracts/profile';
import { resumeRecall, sceneRecall } from '@old-echo/core/contracts/restore';
import type { ProfileChangeView } from '@old-echo/core/desk/profile-change';
import { type FamilySource, type ProfileSource } from '@old-echo/core/desk/profile-source';
import type { State } from '@old-echo/core/desk/state';
import { ALL_WITH_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { bring, download, upload } from '../files/file-steps';
import { flat, Rig, until } from '../server-rig';

jest.setTimeout(180_000);

let rig: Rig;
let was: ProfileSource;
beforeAll(async () => {
  rig = await Rig.open();
  was = (await rig.get<ProfileSource>('/profiles/quay-48')).body;
});
afterAll(() => rig.close());

const inputs = (change: (family: FamilySource) => FamilySource): ProfileSource => ({
  ...was,
  families: was.families.map((family) => (family.id === 'in' ? change(family) : family)),
});

/** One input less, no gates, and faders that end at 0 dB. */
const narrowed = (): ProfileSource =>
  inputs((family) => {
    const { gate: _, ...sections } = family.sections;
    const level = sections['fader']!['level'] as Record<string, unknown>;
    return {
      ...family,
      count: 47,
      sections: {
        ...sections,
        fader: { level: { ...level, max: 0 } },
      },
    };
  });

const change = (from: unknown, to: unknown) =>
  rig.call<ProfileSummary & Problem>('PUT', '/profiles/quay-48', { was: from, source: to });
const lookAhead = (source: unknown) =>
  rig.post<ProfileChangeView & Problem>('/profiles/quay-48/change-previews', { source });

describe('a model of desk that is changed while there are scenes of it', () => {
  let scene: string;
  let before: State;
  let preset: string;
  let restore: string;
  beforeAll(async () => {
    await rig.hands({
      'in.1/fader/level': 6,
      'in.2/fader/level': -12,
      'in.3/gate/threshold': -42,
      'in.48/fader/level': -7,
    });
    scene = (await rig.capture('Wide')).body.id;
    before = await rig.stateOf(scene);
    const content = { 'in.3': { 'gate/on': true, 'gate/threshold': -42 } };
    const made = { kind: 'processor', name: 'Tight', profileId: 'quay-48', content };
    preset = (await rig.post<PresetView>('/presets', made)).body.id;
    await rig.hands({ 'in.1/fader/level': -20, 'in.48/fader/level': -30, 'in.3/gate/threshold': -30 });
    restore = (await rig.restored(sceneRecall(rig.desk.id, scene, ALL_WITH_GLOBALS))).id;
  });

  test('is told beforehand, and nothing is changed by that', async () => {
    const { status, body } = await lookAhead(narrowed());
    expect(status).toBe(200);
    expect(body.desks).toEqual([rig.desk.name]);
    expect([body.newStrips, body.goneStrips]).toEqual([[], ['in.48']]);
    expect(body.goneSettings.map(({ key }) => key)).toContain('gate/threshold');
    expect(body.otherRanges).toEqual([{ family: 'in', key: 'fader/level' }]);
    // Every scene of the demo holds input 48, and so loses it.
    expect(body.losing).toBe(body.scenes);
    expect(body.aside.find(({ key }) => key === 'gate/threshold')).toEqual({
      family: 'in',
      key: 'gate/threshold',
      strips: 47,
    });
    expect(body.aside.find(({ key }) => key === 'fader/level')?.strips).toBeGreaterThanOrEqual(1);
    expect(body.presets).toContain('Tight');
    expect(body.beyond).toEqual([{ desk: rig.desk.name, address: 'in.1/fader/level' }]);
    expect((await rig.get<ProfileSource>('/profiles/quay-48')).body).toEqual(was);
  });

  test('a range is counted by the scenes that go beyond it, and only those', async () => {
    const only = inputs((family) => {
      const level = family.sections['fader']!['level'] as Record<string, unknown>;
      return { ...family, sections: { ...family.sections, fader: { level: { ...level, max: 5.9 } } } };
    });
    const { body } = await lookAhead(only);
    expect(body.goneSettings).toEqual([]);
    expect(body.losing).toBeLessThan(body.scenes);
    const more = inputs((family) => ({
      ...family,
      sections: {
        ...family.sections,
        gate: { ...family.sections['gate'], listen: { kind: 'switch', default: false } },
      },
    }));
    expect((await lookAhead(more)).body).toMatchObject({
      newStrips: [],
      newSettings: [{ family: 'in', key: 'gate/listen' }],
      losing: 0,
      aside: [],
      presets: [],
    });
    const { losing } = (await lookAhead(inputs((family) => ({ ...family })))).body;
    expect(losing).toBe(0);
  });

  test('sets aside what it does not have or take, restores the rest, and brings it back with the model', async () => {
    await rig.hands({ 'in.1/fader/level': -20 });
    expect((await lookAhead(narrowed())).body.beyond).toEqual([]);
    const page = await rig.page();
    expect((await change(was, narrowed())).status).toBe(200);
    await until(() => page.told.some(({ type }) => type === 'models-changed'));
    page.close();
    await rig.linked();

    const after = await rig.stateOf(scene);
    expect(after['in.48']).toBeUndefined();
    expect(Object.keys(after['in.3']!).filter((key) => key.startsWith('gate/'))).toEqual([]);
    expect('fader/level' in after['in.1']!).toBe(false);
    expect(after['in.2']).toMatchObject({ 'fader/level': -12 });
    expect((await rig.get<PresetDetail>(`/presets/${preset}`)).body.content).toEqual({ 'in.3': {} });
    const desk = (await rig.get<State>(`/desks/${rig.desk.id}/state`)).body;
    expect([desk['in.48'], desk['in.3']?.['gate/threshold']]).toEqual([undefined, undefined]);
    expect((await rig.get<State>(`/desks/${rig.desk.id}/baseline`)).body['in.48']).toBeUndefined();

    // What the model does not have is not touched on the desk.
    await rig.hands({ 'in.2/fader/level': -50 });
    rig.front.hands({ 'in.1/fader/level': -3.5, 'in.48/fader/level': -55 });
    const done = await rig.restored(sceneRecall(rig.desk.id, scene, ALL_WITH_GLOBALS));
    expect(done.status).toBe('confirmed');
    expect(rig.front.desk.settings()).toMatchObject({
      'in.1/fader/level': -3.5,
      'in.2/fader/level': -12,
      'in.48/fader/level': -55,
    });

    // A restore of before is taken back as far as there is anything to take back.
    const back = await rig.restored(resumeRecall(rig.desk.id, restore, 'roll back'));
    expect(back.status).toBe('confirmed');
    expect(rig.front.desk.settings()).toMatchObject({ 'in.1/fader/level': -20, 'in.48/fader/level': -55 });

    expect((await change(narrowed(), was)).status).toBe(200);
    await rig.linked();
    expect(flat(await rig.stateOf(scene))).toEqual(flat(before));
    expect((await rig.get<PresetDetail>(`/presets/${preset}`)).body.content['in.3']).toMatchObject({
      'gate/threshold': -42,
    });
  });

  test('its scenes go into an archive as they are now, and come out of it again', async () => {
    await change(was, narrowed());
    await rig.linked();
    const bytes = await download(rig, `/exports/productions/${rig.production.id}?autosaves=true`);
    const there = await upload(rig, bytes);
    expect(there.status).toBe(201);
    const done = await bring(rig, there.body);
    expect(done).toMatchObject({ status: 'done' });
    await change(narrowed(), was);
    await rig.linked();
  });

  test('what strips carry that are gone stays, also where parts are written anew meanwhile', async () => {
    const path = `/productions/${rig.production.id}/parts`;
    const parts = (await rig.get<Parts>(path)).body;
    const all = { ...parts, 'in.48': 'foghorn' };
    await rig.call('PUT', path, { parts: all, shared: Object.values(all) });
    await change(was, narrowed());
    const { 'in.48': gone, ...there } = all;
    expect((await rig.get<Parts>(path)).body).toEqual(there);
    expect((await rig.call('PUT', path, { parts: there, shared: Object.values(there) })).status).toBe(200);
    await change(narrowed(), was);
    await rig.linked();
    expect((await rig.get<Parts>(path)).body).toEqual({ ...there, 'in.48': gone });
  });

  test('stays as somebody made it when the server starts again', async () => {
    await change(was, narrowed());
    await rig.running.close();
    await rig.start();
    expect((await rig.get<ProfileSource>('/profiles/quay-48')).body).toEqual(narrowed());
    expect((await rig.stateOf(scene))['in.48']).toBeUndefined();
    await change(narrowed(), was);
    await rig.linked();
  });
});

test('what somebody else changed meanwhile is not written over', async () => {
  const wider = inputs((family) => ({ ...family, name: 'Channels' }));
  expect((await change(was, wider)).status).toBe(200);
  const { status, body } = await change(was, narrowed());
  expect([status, body.title]).toEqual([409, expect.stringContaining('changed by somebody else')]);
  expect((await rig.get<ProfileSource>('/profiles/quay-48')).body).toEqual(wider);
  expect((await change(wider, was)).status).toBe(200);
});

test.each<[string, () => unknown, number]>([
  ['another id', () => ({ ...was, id: 'other' }), 422],
  ['no families', () => ({ ...was, families: [] }), 422],
  [
    'a range upside down',
    () =>
      inputs((family) => ({
        ...family,
        sections: { fader: { level: { kind: 'level', unit: 'dB', min: 5, max: 0, step: 1, default: 5 } } },
      })),
    422,
  ],
])('%s is refused with what is wrong, before and while it is changed', async (_, source, status) => {
  for (const answer of [await lookAhead(source()), await change(was, source())]) {
    expect([answer.status, answer.body.detail]).toEqual([status, expect.any(String)]);
  }
  expect((await rig.get<ProfileSource>('/profiles/quay-48')).body).toEqual(was);
});

test('while the show is locked its model stays as it is', async () => {
  await rig.call<DeskView>('PATCH', `/desks/${rig.desk.id}`, { showLock: true });
  const { status, body } = await change(was, narrowed());
  await rig.call<DeskView>('PATCH', `/desks/${rig.desk.id}`, { showLock: false });
  expect([status, body.title]).toEqual([423, expect.any(String)]);
});
