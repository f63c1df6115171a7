import { ulid } from 'ulid';

import { type DeskView, swapTitle } from '@old-echo/core/contracts/desk';
import type { OutboardView } from '@old-echo/core/contracts/outboard';
import type { ProductionView } from '@old-echo/core/contracts/production';
import {
  putBackRecall,
  type RestorePage,
  type RestoreView,
  resumeRecall,
  sceneRecall,
  stagedRecall,
  type SwapView,
} from '@old-echo/core/contracts/restore';
import type { RipplePreview, RippleView } from '@old-echo/core/contracts/ripple';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { NamedScope } from '@old-echo/core/contracts/scope';
import type { SettingsByAddress } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS, ALL_WITH_GLOBALS, type Scope } from '@old-echo/core/recall/scope-rules';

import { differing, flat, Rig, until } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());
afterEach(async () => {
  rig.front.misbehave({});
  await edit({
    mode: 'live',
    safes: rig.desk.safes,
    showLock: false,
    thresholds: { path: 6, monitor: 6, master: 3, gain: 6 },
  });
  await rig.linked();
});

const held = () => rig.front.desk.settings();
const edit = (change: object) => rig.call<DeskView>('PATCH', `/desks/${rig.desk.id}`, change);
const problem = ({ status, body }: { status: number; body: unknown }) => [status, (body as { type: string }).type];
const only = (strips: string[], sections: string[], settings?: string[]): Scope => [
  { strips, sections, include: true, ...(settings ? { settings } : {}) },
];
/** Captures the desk as it is, then moves it by hand, and waits until the server has heard of it. */
async function moveAfter(name: string, moves: SettingsByAddress): Promise<SceneView> {
  const scene = (await rig.capture(name)).body;
  rig.front.hands(moves);
  await until(async () => (await rig.preview(scene.id, ALL_WITH_GLOBALS)).changes.length === Object.keys(moves).length);
  return scene;
}

describe('cautions', () => {
  test('a stop that is not answered, or answered with a fade that is none, sends nothing; answered, it does, and the log says how', async () => {
    rig.front.hands({ 'in.1/mute/on': false, 'in.1/fader/level': -5, 'main.1/fader/level': -5 });
    const scene = await moveAfter('Fiddle up', { 'in.1/fader/level': -30 });
    const recall = sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS);
    const { cautions } = await rig.plan(recall);
    expect(cautions.map((c) => [c.weight, c.kind, c.items[0]?.outputs?.[0]])).toContainEqual([
      'stop',
      'louder',
      'main.1',
    ]);
    const before = held();
    const fades = cautions.map(({ points }) => ({ points: [...points], way: 'fade' as const }));
    for (const more of [
      { answers: [] },
      { answers: fades, fade: 0 },
      { answers: [{ id: 'other', way: 'checked' as const, points: [] }] },
    ])
      expect(problem(await rig.begin(recall, more))).toEqual([409, 'urn:old-echo:unanswered']);
    expect(differing(before, held())).toEqual([]);

    const restore = await rig.ended((await rig.beginNow(recall, { answers: fades, fade: 0.4, by: 'Ida' })).id);
    expect([restore.status, restore.by, restore.fade]).toEqual(['confirmed', 'Ida', 0.4]);
    expect(restore.answered).toContainEqual({
      title: 'Fiddle gets 25.0 dB louder in Main L/R',
      weight: 'stop',
      way: 'fade',
    });
    expect(held()['in.1/fader/level']).toBe(-5);
  });

  test('in the studio a rise that is less far needs no answer; the same does', async () => {
    const far = await moveAfter('Fiddle far up, studio', { 'in.1/fader/level': -31 });
    await edit({ mode: 'studio' });
    expect(problem(await rig.begin(sceneRecall(rig.desk.id, far.id, ALL_EXCEPT_GLOBALS), { answers: [] }))).toEqual([
      409,
      'urn:old-echo:unanswered',
    ]);
    rig.front.hands({ 'in.1/fader/level': -5 });
    const scene = await moveAfter('Fiddle up, studio', { 'in.1/fader/level': -20 });
    expect((await rig.begin(sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS), { answers: [] })).status).toBe(202);
    await until(
      async () =>
        (await rig.get<RestorePage>(`/desks/${rig.desk.id}/restores`)).body.restores[0]?.status === 'confirmed',
    );
  });

  test('a tightened threshold cautions earlier; a looser one is refused', async () => {
    const scene = await moveAfter('Two dB', { 'in.1/fader/level': -7 });
    expect((await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).cautions).toEqual([]);
    await edit({ thresholds: { path: 1, monitor: 6, master: 3, gain: 6 } });
    expect((await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).cautions[0]?.items[0]).toMatchObject({
      strip: 'in.1',
      rise: expect.closeTo(2, 6) as number,
    });
    expect((await edit({ thresholds: { path: 12 } })).status).toBe(422);
  });
});

describe('what comes back', () => {
  test('a single send, and nothing else of its section', async () => {
    const scene = await moveAfter('Sends', {
      'in.1/sends/mix.1/level': -40,
      'in.1/sends/mix.2/level': -41,
      'in.2/sends/mix.1/level': -42,
    });
    const before = held();
    await rig.restore(scene.id, only(['in.1'], ['sends'], ['sends/mix.1/level']));
    expect(differing(before, held())).toEqual(['in.1/sends/mix.1/level']);
  });

  test('one strip of the scene onto three others, without source and patch unless asked', async () => {
    const scene = (await rig.capture('Onto')).body;
    const stored = flat(await rig.stateOf(scene.id));
    const before = held();
    const to = ['in.20', 'in.21', 'in.22'];
    const recall = sceneRecall(rig.desk.id, scene.id, only(to, ['*']), { onto: [{ from: 'in.3', to }] });
    const { status } = await rig.ended((await rig.beginNow(recall)).id);
    expect(status).toBe('confirmed');
    const changed = differing(before, held());
    expect(changed.every((address) => /^in\.2[012]\//.test(address))).toBe(true);
    expect(changed.some((address) => address.includes('/source/'))).toBe(false);
    for (const strip of to) expect(held()[`${strip}/eq/3/gain`]).toBe(stored['in.3/eq/3/gain']);
    const patched = sceneRecall(rig.desk.id, scene.id, only(['in.23'], ['*']), {
      onto: [{ from: 'in.3', to: ['in.23'] }],
      withPatch: true,
    });
    await rig.ended((await rig.beginNow(patched)).id);
    expect(held()['in.23/source/socket']).toBe(stored['in.3/source/socket']);
  });

  test('relative: what moved between two scenes is added to what is there, inside the range', async () => {
    rig.front.hands({ 'in.1/fader/level': -10, 'in.4/fader/level': -3, 'in.5/eq/on': false });
    const base = (await rig.capture('Relative from')).body;
    rig.front.hands({ 'in.1/fader/level': -7, 'in.4/fader/level': 2, 'in.5/eq/on': true });
    const scene = (await rig.capture('Relative to')).body;
    rig.front.hands({ 'in.1/fader/level': -20, 'in.4/fader/level': 8, 'in.5/eq/on': false });
    await rig.ended(
      (await rig.beginNow(sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS, { relativeTo: base.id }))).id,
    );
    expect(held()).toMatchObject({ 'in.1/fader/level': -17, 'in.4/fader/level': 10, 'in.5/eq/on': true });
  });

  test('scopes are saved under names, written over on purpose, and removed', async () => {
    const save = (scope: Scope) =>
      rig.post<NamedScope>('/saved-scopes', { profileId: 'quay-48', name: 'Monitors', scope });
    await save(only(['in'], ['sends']));
    const { body } = await save(only(['in', 'fx'], ['sends']));
    const all = () => rig.get<NamedScope[]>('/saved-scopes/quay-48');
    expect((await all()).body).toEqual([{ id: body.id, name: 'Monitors', scope: only(['in', 'fx'], ['sends']) }]);
    await rig.call('DELETE', `/saved-scopes/${body.id}`);
    expect([(await all()).body, (await rig.call('DELETE', `/saved-scopes/${body.id}`)).status]).toEqual([[], 404]);
    expect((await rig.post('/saved-scopes', { profileId: 'none', name: 'x', scope: [] })).status).toBe(422);
  });
});

describe('while it is at work', () => {
  let by = 0;
  /** A restore of levels over a second, or more, with one strip to be powered and patched before. */
  async function slow(
    name: string,
    fade = 1,
  ): Promise<{ scene: SceneView; restore: RestoreView; before: SettingsByAddress }> {
    by += 0.5;
    const moves = Object.fromEntries(Array.from({ length: 8 }, (_, i) => [`in.${i + 1}/fader/level`, -33 - i - by]));
    const scene = await moveAfter(name, {
      ...moves,
      'in.9/eq/1/gain': 5 + by,
      'in.1/mute/on': held()['in.1/mute/on'] !== true,
    });
    const before = held();
    const page = await rig.page();
    const restore = await rig.beginNow(sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS), { fade, by: 'Ida' });
    await until(() => page.told.some((m) => m.type === 'restore' && m.restore.progress?.stage === 'level'));
    page.close();
    return { scene, restore, before };
  }

  test('levels move evenly in dB over the time that was chosen', async () => {
    rig.front.hands({ 'in.1/fader/level': -10 });
    const scene = await moveAfter('Fade', { 'in.1/fader/level': -40 });
    const page = await rig.page();
    const began = Date.now();
    const heard: [ms: number, level: number][] = [];
    const { id } = await rig.beginNow(sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS), { fade: 2 });
    await until(() => {
      for (const m of page.told.splice(0))
        if (m.type === 'settings-changed' && typeof m.settings['in.1/fader/level'] === 'number')
          heard.push([Date.now() - began, m.settings['in.1/fader/level']]);
      return heard.at(-1)?.[1] === -10;
    });
    page.close();
    expect((await rig.ended(id)).status).toBe('confirmed');
    expect(heard.length).toBeGreaterThan(8);
    const levels = heard.map(([, level]) => level);
    expect(levels).toEqual(levels.toSorted((a, b) => a - b));
    const [[from, lowest], [to, highest]] = [heard[0]!, heard.at(-1)!];
    expect(to - from).toBeGreaterThan(1200);
    // At each moment that part of the way; what a busy machine told late is the smaller half.
    const beside = heard.map(([ms, level]) =>
      Math.abs(level - (lowest + ((highest - lowest) * (ms - from)) / (to - from))),
    );
    expect(beside.filter((dB) => dB < 4).length).toBeGreaterThan(heard.length / 2);
  });

  test('stopped, everything stays where it is; it says what stands where, and can be finished', async () => {
    const { restore, scene } = await slow('To be stopped');
    expect((await rig.post(`/restores/${restore.id}/cancel`, { how: 'stop' })).status).toBe(200);
    const { status, report } = await rig.ended(restore.id);
    expect(status).toBe('cancelled');
    for (const { address, found } of report?.unconfirmed ?? []) expect(found).toEqual(held()[address]);
    expect(report?.unconfirmed.length).toBeGreaterThan(0);
    const stored = flat(await rig.stateOf(scene.id));
    expect((await rig.ended((await rig.beginNow(resumeRecall(rig.desk.id, restore.id, 'finish'))).id)).status).toBe(
      'confirmed',
    );
    expect(differing(stored, held()).filter((a) => a.startsWith('in.1/') || a.startsWith('in.9/'))).toEqual([]);
  });

  test('rolled back, the desk is as it was, setting for setting', async () => {
    const { restore, before } = await slow('To be rolled back');
    await rig.post(`/restores/${restore.id}/cancel`, { how: 'roll back' });
    const { status, report } = await rig.ended(restore.id);
    expect([status, report?.unconfirmed]).toEqual(['rolled back', []]);
    expect(differing(before, held())).toEqual([]);
    expect(problem(await rig.post(`/restores/${restore.id}/cancel`, { how: 'stop' }))).toEqual([
      409,
      'urn:old-echo:conflict',
    ]);
  });

  test('a second person is told who is at work, on what, and since when', async () => {
    // Long enough for whoever is slow to ask; it is stopped then.
    const { restore, scene } = await slow('For two', 30);
    const answer = await rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS);
    expect(problem(answer)).toEqual([423, 'urn:old-echo:desk-busy']);
    expect((answer.body as unknown as { title: string }).title).toMatch(
      new RegExp(`^Ida is restoring ${scene.number} For two on this desk for \\d+ s\\.$`),
    );
    await rig.post(`/restores/${restore.id}/cancel`, { how: 'stop' });
    await rig.ended(restore.id);
  });
});

describe('flip', () => {
  test('there and back through the same steps, and back exactly where it was, drift and all', async () => {
    await edit({ mode: 'studio' });
    const scene = (await rig.capture('One side')).body;
    rig.front.hands({ 'in.1/fader/level': -22, 'in.2/fader/level': -23 });
    const drifted = held();
    await edit({ swapTo: scene.id });
    const swap = async () => {
      const { id, to } = (await rig.post<SwapView>(`/desks/${rig.desk.id}/swaps`, { by: 'Ida' })).body;
      return { to: swapTitle(to), status: (await rig.ended(id)).status };
    };
    await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 2);
    const one = flat(await rig.stateOf(scene.id));
    for (let i = 0; i < 3; i++) {
      expect(await swap()).toEqual({ to: `${scene.number} One side`, status: 'confirmed' });
      expect(differing(one, held())).toEqual([]);
      expect(await swap()).toEqual({ to: `${scene.number} One side, 2 settings moved`, status: 'confirmed' });
      expect(differing(drifted, held())).toEqual([]);
    }
  });

  test('from another song back to where the desk had drifted in the one before', async () => {
    await edit({ mode: 'studio' });
    const target = (await rig.capture('Of this song')).body;
    await rig.post('/productions', { name: 'Other song', deskId: rig.desk.id, kind: 'song' });
    const other = (await rig.get<ProductionView[]>('/productions')).body.find(({ name }) => name === 'Other song')!;
    await rig.post(`/desks/${rig.desk.id}/captures`, { versionId: other.versions[0]!.id, name: 'Of another' });
    rig.front.hands({ 'in.3/fader/level': -24.5 });
    await until(async () => (await rig.preview(target.id, ALL_EXCEPT_GLOBALS)).changes.length === 1);
    const drifted = held();
    await rig.restore(target.id, ALL_EXCEPT_GLOBALS);
    expect(held()['in.3/fader/level']).not.toBe(-24.5);
    await rig.ended((await rig.post<RestoreView>(`/desks/${rig.desk.id}/swaps`, { by: '' })).body.id);
    expect(differing(drifted, held())).toEqual([]);
    expect(problem(await edit({ swapTo: ulid() }))).toEqual([422, 'urn:old-echo:refused-input']);
  });

  test('at a show it is looked at first, and a desk without another side says so', async () => {
    expect(problem(await rig.post(`/desks/${rig.desk.id}/swaps`, {}))).toEqual([409, 'urn:old-echo:unanswered']);
    const other = (await rig.get<DeskView[]>('/desks')).body[1]!;
    expect((await rig.post(`/desks/${other.id}/swaps`, {})).status).toBe(404);
  });
});

describe('the show lock', () => {
  test('keeps fingers from restoring, replacing, rippling and removing, until it is lifted', async () => {
    const scene = await moveAfter('Locked', { 'in.1/fader/level': -29 });
    await edit({ showLock: true });
    const before = held();
    const tries = [
      () => rig.startRestore(scene.id, ALL_EXCEPT_GLOBALS),
      () => rig.post(`/desks/${rig.desk.id}/scene-replacements`, { sceneId: scene.id, revision: scene.revision }),
      () =>
        rig.post(`/desks/${rig.desk.id}/ripples`, {
          settings: { 'in.1/pan/position': 3 },
          scenes: [{ id: scene.id, revision: scene.revision }],
        }),
      () => rig.post(`/scenes/${scene.id}/bin`, {}),
      () => rig.call('DELETE', `/scenes/${scene.id}`),
      () => rig.post(`/versions/${scene.versionId}/bin`, {}),
      () => rig.post(`/productions/${rig.production.id}/bin`, {}),
      () => rig.call('DELETE', `/productions/${rig.production.id}/bin`),
    ];
    for (const attempt of tries) expect(problem(await attempt())).toEqual([423, 'urn:old-echo:show-lock']);
    expect(differing(before, held())).toEqual([]);
    await edit({ showLock: false });
    expect((await rig.restore(scene.id, ALL_EXCEPT_GLOBALS)).status).toBe('confirmed');
  });

  test('holds on every way to the desk: each kind of restore, the swap, and a move by hand', async () => {
    const scene = await moveAfter('Every way', { 'in.1/fader/level': -31 });
    const restored = await rig.restore(scene.id, ALL_EXCEPT_GLOBALS);
    rig.front.hands({ 'in.1/fader/level': -33 });
    const settings = { 'in.1/fader/level': -6 };
    const staged = await rig.post<{ id: string }>('/staged-settings', { deskId: rig.desk.id, title: 'A', settings });
    const recalls = [
      sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS),
      stagedRecall(rig.desk.id, staged.body.id),
      putBackRecall(rig.desk.id, ALL_EXCEPT_GLOBALS),
      resumeRecall(rig.desk.id, restored.id, 'roll back'),
    ];
    await until(async () => (await rig.plan(recalls[0]!)).changes.length > 0);
    await edit({ showLock: true });
    const before = held();
    const ways = [
      ...recalls.map((recall) => () => rig.begin(recall)),
      () => rig.post(`/desks/${rig.desk.id}/swaps`, { by: '' }),
      () => rig.post(`/desks/${rig.desk.id}/settings`, { settings }),
    ];
    for (const [i, way] of ways.entries())
      expect([i, problem(await way())]).toEqual([i, [423, 'urn:old-echo:show-lock']]);
    expect(differing(before, held())).toEqual([]);
    await edit({ showLock: false });
  });
});

describe('ripple', () => {
  test('what stood beside the desk stays with the scene, when it is edited and when it is copied', async () => {
    const devices = `/productions/${rig.production.id}/outboard`;
    const [spring] = (await rig.post<OutboardView[]>(devices, { name: 'Spring', controls: [], note: '' })).body;
    const { id, revision } = (await rig.capture('With the spring')).body;
    await rig.call('DELETE', `${devices}/${spring!.id}`);
    const settings = { 'in.1/fader/level': -7 };
    const { body } = await rig.rippled({ settings, scenes: [{ id, revision }], by: 'Ida' });
    const edited = body.scenes[0]!.id;
    const copied = (await rig.post<SceneView>(`/scenes/${edited}/copy`, { versionId: rig.production.versions[0]!.id }))
      .body;
    const db = rig.admin();
    const kept = (await db('scene_outboard')
      .withSchema(rig.database)
      .whereIn('scene_id', [id, edited, copied.id])
      .pluck('devices')) as string[];
    await db.destroy();
    expect(kept).toEqual([kept[0], kept[0], kept[0]]);
    expect(JSON.parse(kept[0]!)).toMatchObject([{ name: 'Spring' }]);
  });

  test('one change into chosen later scenes: only those settings, at their places, and undone as one', async () => {
    const scenes: SceneView[] = [];
    for (const [i, name] of ['Verse', 'Chorus', 'Coda'].entries()) {
      rig.front.hands({ 'in.1/fader/level': -12 - i, 'in.2/fader/level': -12 - i });
      scenes.push((await rig.capture(name)).body);
    }
    const before = await Promise.all(scenes.map((scene) => rig.stateOf(scene.id)));
    const request = (list: readonly SceneView[]) => ({
      settings: { 'in.1/fader/level': -6 },
      scenes: list.map(({ id, revision }) => ({ id, revision })),
      by: 'Ida',
    });
    const path = `/desks/${rig.desk.id}`;
    const preview = (await rig.post<RipplePreview[]>(`${path}/ripple-previews`, request(scenes.slice(1)))).body;
    expect(preview.map(({ changes }) => changes.map((c) => [c.address, c.was, c.now]))).toEqual([
      [['in.1/fader/level', -13, -6]],
      [['in.1/fader/level', -14, -6]],
    ]);
    // All of them or none: one that was edited meanwhile stops the others too.
    const stale = { ...request(scenes), scenes: scenes.map(({ id }) => ({ id, revision: 9 })) };
    expect((await rig.post(`${path}/ripples`, stale)).status).toBe(409);
    await rig.call('PATCH', `/scenes/${scenes[0]!.id}`, { protected: true, revision: 1 });
    expect(
      (await rig.post(`${path}/ripples`, request([{ ...scenes[0]!, revision: 2 }, ...scenes.slice(1)]))).status,
    ).toBe(409);
    expect((await rig.scene('Coda')).id).toBe(scenes[2]!.id);

    const { body } = await rig.rippled(request(scenes.slice(1)));
    expect([body.status, body.done, body.total]).toEqual(['done', 2, 2]);
    for (const [i, old] of scenes.slice(1).entries()) {
      const made = await rig.scene(old.name);
      expect([made.number, body.scenes.some(({ id }) => id === made.id)]).toEqual([old.number, true]);
      expect(differing(flat(before[i + 1]!), flat(await rig.stateOf(made.id)))).toEqual(['in.1/fader/level']);
    }
    expect((await rig.get<DeskView>(path)).body.scene?.number).toBe(scenes[2]!.number);

    expect((await rig.post<RippleView>(`/ripples/${body.id}/undo`, {})).body.undone).toBe(true);
    for (const [i, old] of scenes.entries()) {
      const back = await rig.scene(old.name);
      expect([back.id, back.number]).toEqual([old.id, old.number]);
      expect(differing(flat(before[i]!), flat(await rig.stateOf(back.id)))).toEqual([]);
    }
    expect((await rig.post(`/ripples/${body.id}/undo`, {})).status).toBe(409);
    const { body: storage } = await rig.get<{ orphans: number; incomplete: number[] }>('/storage-check');
    expect(storage).toMatchObject({ orphans: 0, incomplete: [] });
  });

  test('cancelled on its way, or with one of its scenes changed meanwhile, it changes no scene', async () => {
    const scenes = [(await rig.capture('Of many')).body];
    const versionId = rig.production.versions[0]!.id;
    while (scenes.length < 25)
      scenes.push((await rig.post<SceneView>(`/scenes/${scenes[0]!.id}/copy`, { versionId })).body);
    const request = {
      settings: { 'in.4/fader/level': -3 },
      scenes: scenes.map(({ id, revision }) => ({ id, revision })),
      by: 'Ida',
    };
    const begun = (await rig.post<RippleView>(`/desks/${rig.desk.id}/ripples`, request)).body;
    await rig.post(`/ripples/${begun.id}/cancel`, {});
    let ended = begun;
    await until(async () => {
      ended = (await rig.get<RippleView>(`/ripples/${begun.id}`)).body;
      return ended.status !== 'running';
    });
    expect([ended.status, ended.scenes]).toEqual(['cancelled', []]);
    for (const { id, revision } of scenes)
      expect((await rig.get<SceneView>(`/scenes/${id}`)).body).toMatchObject({ revision, binnedAt: null });
    expect((await rig.post(`/ripples/${begun.id}/undo`, {})).status).toBe(404);
    expect((await rig.rippled(request)).body).toMatchObject({ status: 'done', total: 25 });
  });

  test('two decibels more in every scene, from wherever each has them: what is off stays off, and nothing leaves its range', async () => {
    const levels = [-20, -90, 9.2];
    const scenes: SceneView[] = [];
    for (const level of levels) {
      rig.front.hands({ 'in.3/fader/level': level, 'in.3/pan/position': level > 0 ? 10 : 0 });
      scenes.push((await rig.capture(`Voices at ${level}`)).body);
    }
    const request = {
      settings: { 'in.3/pan/position': 5 },
      offsets: { 'in.3/fader/level': 2 },
      scenes: scenes.map(({ id, revision }) => ({ id, revision })),
      by: 'Ida',
    };
    const path = `/desks/${rig.desk.id}`;
    const previews = (await rig.post<RipplePreview[]>(`${path}/ripple-previews`, request)).body;
    expect(previews.map(({ changes }) => changes.map((c) => [c.key, c.was, c.now]))).toEqual([
      [
        ['pan/position', 0, 5],
        ['fader/level', -20, -18],
      ],
      [['pan/position', 0, 5]],
      [
        ['pan/position', 10, 5],
        ['fader/level', 9.2, 10],
      ],
    ]);
    expect((await rig.rippled(request)).body.status).toBe('done');
    for (const [i, level] of [-18, -90, 10].entries()) {
      const { id } = await rig.scene(`Voices at ${levels[i]}`);
      expect(flat(await rig.stateOf(id))).toMatchObject({ 'in.3/fader/level': level, 'in.3/pan/position': 5 });
    }
    for (const offsets of [
      { 'in.3/fader/level': 101 },
      { 'in.3/mute/on': 1 },
      { 'in.3/fader/level': null },
      { 'in.999/fader/level': 1 },
    ]) {
      const refused = await rig.post<{ detail: string }>(`${path}/ripples`, { ...request, offsets });
      expect([refused.status, offsets]).toEqual([422, offsets]);
    }
    for (const offsets of [[], 'up', null])
      expect((await rig.post(`${path}/ripples`, { ...request, offsets })).status).toBe(422);
  });
});

test('the log lists every restore, the newest first, page by page', async () => {
  const first = (await rig.get<RestorePage>(`/desks/${rig.desk.id}/restores`)).body;
  expect(first.restores.length).toBeGreaterThan(5);
  const times = first.restores.map((restore) => restore.startedAt);
  expect(times).toEqual(times.toSorted().toReversed());
  const { body } = await rig.get<RestorePage>(`/desks/${rig.desk.id}/restores?before=${times[2]}`);
  expect(body.restores[0]?.id).toBe(first.restores[3]?.id);
  expect((await rig.get(`/desks/${rig.desk.id}/restores?before=yesterday`)).status).toBe(422);
});
