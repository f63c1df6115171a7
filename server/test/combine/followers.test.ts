import type { CatchUpResult, FollowerView } from '@old-echo/core/contracts/follower';
import type { MixNoteView } from '@old-echo/core/contracts/mix-note';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { ALL_WITH_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { Rig } from '../server-rig';

jest.setTimeout(60_000);

let rig: Rig;
let main = '';
beforeAll(async () => {
  rig = await Rig.open();
  main = rig.production.versions[0]!.id;
});
afterAll(() => rig.close());

const followers = async () => (await rig.get<FollowerView[]>(`/productions/${rig.production.id}/followers`)).body;
const takeOver = (versions: readonly string[]) =>
  rig.post<CatchUpResult[]>(`/productions/${rig.production.id}/followers/catch-up`, { versions });
const words = (body: unknown): string => JSON.stringify(body);

/** A version that follows the main one, with a change of its own. */
async function follower(name: string, from: SceneView, own: Record<string, number | boolean>): Promise<string> {
  const body = { name, fromSceneId: from.id, followsId: main };
  const { id } = (await rig.post<{ id: string }>(`/productions/${rig.production.id}/versions`, body)).body;
  const { scenes } = (
    await rig.get<{ scenes: SceneView[] }>(`/productions/${rig.production.id}/scenes?versionId=${id}`)
  ).body;
  const [copy] = scenes;
  await rig.rippled({
    settings: own,
    scenes: [{ id: copy!.id, revision: copy!.revision }],
    by: '',
  });
  return id;
}

test('versions that follow take later changes over and keep their own; what is at odds waits in the making', async () => {
  rig.front.hands({ 'in.1/fader/level': 0, 'in.2/mute/on': false, 'in.3/fader/level': 0 });
  const start = (await rig.capture('Start')).body;
  const quiet = await follower('Without the second', start, { 'in.2/mute/on': true });
  const louder = await follower('Louder third', start, { 'in.3/fader/level': 5 });
  expect(await followers()).toEqual([]);

  rig.front.hands({ 'in.1/fader/level': -6, 'in.3/fader/level': -3 });
  const later = (await rig.capture('Later')).body;
  expect(await followers()).toMatchObject([
    { versionId: quiet, followsId: main, merge: later.id, behind: 1, settings: 2, keeps: 1, conflicts: 0 },
    { versionId: louder, followsId: main, merge: later.id, behind: 1, settings: 1, keeps: 1, conflicts: 1 },
  ]);
  const { body } = await takeOver([quiet, louder]);
  expect(body.map(({ sceneId, combinationId }) => [sceneId !== null, combinationId !== null])).toEqual([
    [true, false],
    [false, true],
  ]);
  const state = await rig.stateOf(body[0]!.sceneId!);
  expect([state['in.1']?.['fader/level'], state['in.2']?.['mute/on'], state['in.3']?.['fader/level']]).toEqual([
    -6,
    true,
    -3,
  ]);
  const made = (await rig.get<SceneView>(`/scenes/${body[0]!.sceneId!}`)).body;
  expect([made.versionId, made.parents[1], made.joins]).toEqual([quiet, later.id, [later.number]]);
  expect(await followers()).toMatchObject([{ versionId: louder }]);
  // Asked again, it goes on with what was begun.
  expect((await takeOver([louder])).body[0]!.combinationId).toBe(body[1]!.combinationId);
  const none = await takeOver([quiet]);
  expect([none.status, words(none.body)]).toEqual([422, expect.stringContaining('nothing to take over')]);
});

test('a version follows neither itself, nor one that follows it, nor one of another production', async () => {
  const production = (await rig.get<ProductionView[]>('/productions')).body;
  const own = production.find(({ id }) => id === rig.production.id)!;
  const other = production.find(({ id }) => id !== rig.production.id)!.versions[0]!;
  const [first] = own.versions;
  const follow = (followsId: string) =>
    rig.call('PATCH', `/versions/${first!.id}`, { followsId, revision: first!.revision });
  const statuses = await Promise.all([first!.id, own.versions.at(-1)!.id, other.id].map(follow));
  expect(statuses.map(({ status }) => status)).toEqual([422, 422, 422]);
});

test('mix notes are kept with their version, ticked with a scene, and never written over', async () => {
  const add = (mixNote: object) => rig.post<MixNoteView>('/mix-notes', { versionId: main, ...mixNote });
  const { body } = await add({ text: 'More fiddle', songSeconds: 65, strip: 'in.1', requestedBy: 'Tam' });
  expect(body).toMatchObject({ status: 'open', songSeconds: 65, strip: 'in.1', requestedBy: 'Tam', scene: null });
  expect((await add({ text: ' ' })).status).toBe(422);
  const later = await rig.scene('Later');
  const edit = { status: 'done', sceneId: later.id, revision: 1 };
  const done = (await rig.call<MixNoteView>('PATCH', `/mix-notes/${body.id}`, edit)).body;
  expect(done).toMatchObject({ status: 'done', text: 'More fiddle', requestedBy: 'Tam', beforeId: later.parents[0] });
  expect((await rig.call('PATCH', `/mix-notes/${body.id}`, edit)).status).toBe(409);
  const page = await fetch(`http://127.0.0.1:${rig.running.port}/api/mix-notes/list.html?version=${main}`);
  const label = (await rig.stateOf(later.id))['in.1']!['label/name'];
  expect(await page.text()).toContain(`<td>1:05<td>${String(label)}<td>More fiddle<td>Tam<td>done<td>`);
  expect((await rig.call('DELETE', `/mix-notes/${body.id}`)).status).toBe(200);
  expect((await rig.get(`/mix-notes?version=${main}`)).body).toEqual([]);
});

test('what was kept without a person and named later has a later number, and is not the newest for it', async () => {
  const [{ merge } = { merge: '' }] = await followers();
  const restore = await rig.restore(merge, ALL_WITH_GLOBALS);
  expect(restore.status).toBe('confirmed');
  rig.front.hands({ 'in.5/fader/level': -8 });
  const newest = (await rig.capture('The newest')).body;
  const kept = (await rig.get<SceneView>(`/scenes/${restore.wayBack!.sceneId}`)).body;
  const named = await rig.call<SceneView>('PATCH', `/scenes/${kept.id}`, {
    revision: kept.revision,
    name: 'Named late',
  });
  expect(named.body.number).toBeGreaterThan(newest.number);
  expect(named.body.place).toBeLessThan(newest.place);
  expect((await followers()).map((view) => view.merge)).toContain(newest.id);
  expect((await followers()).map((view) => view.merge)).not.toContain(kept.id);
});
