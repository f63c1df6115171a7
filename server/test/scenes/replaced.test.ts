import type { DeskView } from '@old-echo/core/contracts/desk';
import { swapTitle } from '@old-echo/core/contracts/desk';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { putBackRecall } from '@old-echo/core/contracts/restore';
import type { ScenePage, SceneView } from '@old-echo/core/contracts/scene';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS, type Scope } from '@old-echo/core/recall/scope-rules';

import { differing, flat, Rig } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [], mode: 'studio' });
});
afterAll(() => rig.close());

const held = () => rig.front.desk.settings();
const desk = async (): Promise<DeskView> => (await rig.get<DeskView[]>('/desks')).body[0]!;
const scene = async (id: string): Promise<SceneView> => (await rig.get<SceneView>(`/scenes/${id}`)).body;
const replace = ({ id, revision }: Pick<SceneView, 'id' | 'revision'>) =>
  rig.post<SceneView>(`/desks/${rig.desk.id}/scene-replacements`, { sceneId: id, revision });
const undo = () => rig.post<SceneView & Problem>(`/desks/${rig.desk.id}/scene-replacements/undo`, {});
const SENDS: Scope = [{ strips: ['*'], sections: ['sends'], include: true }];
const swap = async () => rig.ended((await rig.post<{ id: string }>(`/desks/${rig.desk.id}/swaps`, { by: '' })).body.id);

/** Everything about the desk and its scenes that saving must leave, and undoing must give back. */
async function everything() {
  const { baseline, scene: stands, atHand, swap: other } = await desk();
  const { scenes } = (await rig.get<ScenePage>(`/productions/${rig.production.id}/scenes?limit=200`)).body;
  const meant = flat((await rig.get<State>(`/desks/${rig.desk.id}/baseline`)).body);
  const unrevised = ({ revision: _, ...view }: SceneView) => view;
  return {
    line: baseline?.line,
    meant,
    drift: differing(meant, held()),
    stands: [stands?.id, stands?.number, stands?.place],
    atHand,
    other,
    scenes: scenes.map(unrevised),
  };
}

describe('a scene saved over from the desk', () => {
  test('keeps its number, its place and all that leads to it; the old one is in the bin, and undone all is as it was', async () => {
    const sends = (await rig.capture('Of which the sends come')).body;
    await rig.hands({ 'in.1/sends/mix.1/level': -33, 'in.3/fader/level': -18 });
    const old = (await rig.capture('To be saved over')).body;
    await rig.call('PUT', `/desks/${rig.desk.id}/at-hand`, { ids: [sends.id, old.id] });
    await rig.restore(sends.id, SENDS);
    await rig.hands({ 'in.3/fader/level': -27, 'in.4/mute/on': held()['in.4/mute/on'] !== true });
    const before = await everything();
    expect([before.line, before.drift]).toEqual([
      `${old.number} To be saved over, with sends from ${sends.number} Of which the sends come`,
      ['in.3/fader/level', 'in.4/mute/on'],
    ]);

    const { body: saved, status } = await replace(old);
    expect([status, saved.number, saved.place, saved.name]).toEqual([201, old.number, old.place, old.name]);
    const after = await everything();
    expect([after.line, after.drift, after.stands]).toEqual([
      `${old.number} To be saved over`,
      [],
      [saved.id, old.number, old.place],
    ]);
    expect(after.atHand.map(({ id }) => id)).toEqual([sends.id, saved.id]);
    expect(flat(await rig.stateOf(saved.id))['in.3/fader/level']).toBe(-27);
    expect((await scene(old.id)).binnedAt).not.toBeNull();
    expect((await desk()).scene?.isUndoable).toBe(true);

    expect((await undo()).body.id).toBe(old.id);
    expect(await everything()).toEqual(before);
    expect((await scene(saved.id)).binnedAt).not.toBeNull();
    expect((await undo()).body).toMatchObject({ status: 404, title: 'This save was already undone.' });
    expect(await everything()).toEqual(before);
  });

  test('and written about since is not undone: nothing that was written is lost', async () => {
    await rig.hands({ 'in.5/fader/level': -12 });
    const { body: saved } = await replace((await desk()).scene!);
    await rig.call('PATCH', `/scenes/${saved.id}`, { note: 'The one.', revision: saved.revision });
    const before = await everything();
    expect((await desk()).scene?.isUndoable).toBe(false);
    expect((await undo()).body).toMatchObject({
      status: 409,
      title: `${saved.number} ${saved.name} was changed since.`,
    });
    expect(await everything()).toEqual(before);
  });

  test('is undone without touching what was captured on the desk since', async () => {
    await rig.hands({ 'in.6/fader/level': -13 });
    const old = (await desk()).scene!;
    const { body: saved } = await replace(old);
    await rig.hands({ 'in.6/fader/level': -14 });
    const next = (await rig.capture('Captured after the save')).body;
    await undo();
    expect([(await scene(old.id)).binnedAt, (await scene(saved.id)).binnedAt]).toEqual([null, expect.any(String)]);
    const { line, drift, stands } = await everything();
    expect([line, drift, stands[0]]).toEqual([`${next.number} Captured after the save`, [], next.id]);
  });

  test('is neither saved over nor undone while the show is locked', async () => {
    await rig.hands({ 'in.6/fader/level': -15 });
    await replace((await desk()).scene!);
    await rig.call('PATCH', `/desks/${rig.desk.id}`, { showLock: true });
    const before = await everything();
    expect([(await undo()).status, (await replace((await desk()).scene!)).status]).toEqual([423, 423]);
    expect(await everything()).toEqual(before);
    await rig.call('PATCH', `/desks/${rig.desk.id}`, { showLock: false });
    expect((await undo()).status).toBe(200);
  });

  test('twice at the same moment is saved over once', async () => {
    await rig.hands({ 'in.6/fader/level': -16 });
    const stands = (await desk()).scene!;
    const both = await Promise.all([replace(stands), replace(stands)]);
    expect(both.map(({ status }) => status).sort()).toEqual([201, 409]);
    const undone = await Promise.all([undo(), undo()]);
    expect(undone.map(({ status }) => status).sort()).toEqual([200, 404]);
    expect((await desk()).scene?.id).toBe(stands.id);
  });

  test('must have been captured by a person', async () => {
    const restore = await rig.restored(putBackRecall(rig.desk.id, ALL_EXCEPT_GLOBALS));
    const { status, body } = await replace(await scene(restore.wayBack!.sceneId));
    expect([status, body.name]).toEqual([422, undefined]);
  });
});

describe('the two that are swapped between', () => {
  let one: SceneView, other: SceneView;
  const sides = async (): Promise<SettingsByAddress[]> =>
    Promise.all([one, other].map(async ({ id }) => flat(await rig.stateOf(id))));

  test('are the two captured last', async () => {
    one = (await rig.capture('First mix')).body;
    await rig.hands({ 'in.1/fader/level': -21, 'in.2/eq/2/gain': 4 });
    other = (await rig.capture('Second mix')).body;
    const [first, second] = await sides();
    for (const side of [first!, second!, first!]) {
      expect(swapTitle((await desk()).swap!)).toBe(
        `${side === first ? one.number : other.number} ${side === first ? 'First' : 'Second'} mix`,
      );
      expect((await swap()).status).toBe('confirmed');
      expect(differing(held(), side)).toEqual([]);
    }
  });

  test('stay as they are when a part of another scene comes back, and when the server is started again', async () => {
    const sends = await rig.scene('Of which the sends come');
    await rig.restore(sends.id, SENDS);
    const { swap: armed } = await desk();
    await rig.running.close();
    await rig.start();
    expect([armed?.id, (await desk()).swap?.id]).toEqual([other.id, other.id]);
  });

  test('lose nothing that was moved since: it is told by the scene that stood there, and comes back setting for setting', async () => {
    await rig.hands({ 'in.9/fader/level': -19, 'in.9/pan/position': 20 });
    const tweaked = held();
    await swap();
    const [, second] = await sides();
    expect(differing(held(), second!)).toEqual([]);
    const { swap: left } = await desk();
    // The sends of another scene are on it as well.
    expect(swapTitle(left!)).toMatch(new RegExp(`^${one.number} First mix, \\d+ settings moved$`));
    await swap();
    expect(differing(held(), tweaked)).toEqual([]);
    expect(swapTitle((await desk()).swap!)).toBe(`${other.number} Second mix`);
  });

  test('are two: a scene replaced by what stands on the desk is not swapped with itself', async () => {
    await replace(await scene(other.id));
    const { scene: stands, swap: left } = await desk();
    expect([stands?.number, left?.number]).toEqual([other.number, one.number]);
  });
});

describe('the song or show that a desk works on', () => {
  const edit = (body: object) => rig.call<Problem>('PATCH', `/desks/${rig.desk.id}`, body);
  const worksOn = async () => (await desk()).worksOn;
  const swapsTo = async () => (await desk()).swap?.id;
  let song: ProductionView, opening: SceneView, own: DeskView['swap'];

  test('is chosen while another stands there: the swap goes along, nothing is sent, and it can be undone', async () => {
    opening = await scene((await desk()).scene!.id);
    const begun = { deskId: rig.desk.id, name: 'Low Water Waltz', kind: 'song', fromSceneId: opening.id };
    song = (await rig.post<ProductionView>('/productions', begun)).body;
    own = (await desk()).swap;
    const before = [held(), await everything()];
    expect((await edit({ worksOn: song.id })).status).toBe(200);
    const { swap: there, scene: stands } = await desk();
    expect([await worksOn(), there?.name, stands?.id]).toEqual([song.id, opening.name, opening.id]);
    expect(there?.id).not.toBe(own?.id);
    await edit({ worksOn: null });
    expect([held(), await everything()]).toEqual(before);
  });

  test('is that of what stands again as soon as something is captured or comes back whole, not when a part does', async () => {
    await edit({ worksOn: song.id });
    await rig.restore((await rig.scene('First mix')).id, SENDS);
    expect(await worksOn()).toBe(song.id);
    await rig.restore((await rig.scene('First mix')).id, ALL_EXCEPT_GLOBALS);
    expect(await worksOn()).toBeNull();
    await edit({ worksOn: song.id });
    await rig.capture('Captured in the other');
    expect([await worksOn(), (await desk()).scene?.name]).toEqual([null, 'Captured in the other']);
  });

  test('is no longer this one once one swaps to a scene of another, and still is for one of its own', async () => {
    await edit({ worksOn: song.id });
    const there = await swapsTo();
    await edit({ swapTo: there });
    expect([await worksOn(), await swapsTo()]).toEqual([song.id, there]);
    const { id } = await rig.scene('First mix');
    await edit({ swapTo: id });
    expect([await worksOn(), await swapsTo()]).toEqual([null, id]);
  });

  test('is one of its own, and counts only while it is not in the bin', async () => {
    const { body } = await rig.get<ProductionView[]>('/productions');
    const elsewhere = body.find(({ deskId }) => deskId !== rig.desk.id)!;
    const refused = await edit({ worksOn: elsewhere.id });
    expect([refused.status, refused.body.title, await worksOn()]).toEqual([
      422,
      `The song or show is gone, or not on ${rig.desk.name}.`,
      null,
    ]);
    const armed = await swapsTo();
    await edit({ worksOn: song.id });
    await rig.post(`/productions/${song.id}/bin`, {});
    expect(await swapsTo()).toBe(armed);
  });
});
