import WebSocket from 'ws';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LiveMessage } from '@old-echo/core/contracts/live';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { putBackRecall, sceneRecall } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { SettingsByAddress, State } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS, type Scope } from '@old-echo/core/recall/scope-rules';

import { differing, flat, Rig, until } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());
afterEach(async () => {
  rig.front.freeze(false);
  await rig.linked();
});

/** What the stand-in holds, asked of itself and not of the server. */
const held = () => rig.front.desk.settings();
const hands = (settings: SettingsByAddress) => rig.hands(settings);
const baseline = async (): Promise<SettingsByAddress> =>
  flat((await rig.get<State>(`/desks/${rig.desk.id}/baseline`)).body);
/** The settings of the baseline that the desk does not hold. */
const drifted = async (): Promise<string[]> => {
  const [meant, now] = [await baseline(), held()];
  return Object.keys(meant).filter((address) => JSON.stringify(meant[address]) !== JSON.stringify(now[address]));
};
const deskNamed = async (name: string): Promise<DeskView> =>
  (await rig.get<DeskView[]>('/desks')).body.find((desk) => desk.name === name)!;

const FADER_OF_TWO: Scope = [{ strips: ['in.1', 'in.4'], sections: ['fader'], include: true }];

describe('one desk and another', () => {
  test('a recall that was meant for another desk is refused, and nothing is sent', async () => {
    const before = held();
    const other = await deskNamed('Skiff 16');
    const recall = sceneRecall(other.id, (await rig.scene('Low tide')).id, ALL_EXCEPT_GLOBALS);
    for (const what of ['previews', 'restores']) {
      const body = what === 'previews' ? recall : { recall, fingerprint: 'f'.repeat(64), answers: [] };
      expect((await rig.post<Problem>(`/desks/${rig.desk.id}/${what}`, body)).status).toBe(422);
    }
    expect(differing(held(), before)).toEqual([]);
  });

  test('a scene of another desk is refused, and the desk is named', async () => {
    const { body } = await rig.get<ProductionView[]>('/productions');
    const song = body.find((production) => production.deskId !== rig.desk.id)!;
    const { scenes } = (await rig.get<{ scenes: SceneView[] }>(`/productions/${song.id}/scenes?limit=1`)).body;
    const answer = await rig.post<Problem>(
      `/desks/${rig.desk.id}/previews`,
      sceneRecall(rig.desk.id, scenes[0]!.id, ALL_EXCEPT_GLOBALS),
    );
    expect([answer.status, answer.body.title]).toEqual([422, 'A chosen scene is gone, or was not made on Quay 48.']);
  });
});

describe('the gate for moves by hand on a screen', () => {
  const move = (settings: SettingsByAddress, confirmed: string[] = []) =>
    rig.post<Problem>(`/desks/${rig.desk.id}/settings`, { settings, confirmed });
  const edit = (change: object) => rig.call('PATCH', `/desks/${rig.desk.id}`, change);
  afterEach(async () => {
    await edit({ showLock: false });
    await edit({ mode: 'live', safes: [] });
  });

  test('while the show is locked nothing moves', async () => {
    await edit({ showLock: true });
    const before = held();
    const { status, body } = await move({ 'in.1/fader/level': -30 });
    expect([status, body.type]).toEqual([423, 'urn:old-echo:show-lock']);
    expect(differing(held(), before)).toEqual([]);
  });

  test('what is safe does not move, and is named', async () => {
    await edit({ safes: [{ strips: ['in.1'], sections: ['fader'] }] });
    const before = held();
    const { status, body } = await move({ 'in.1/fader/level': -30, 'in.1/pan/position': 4 });
    expect([status, body.title]).toEqual([422, 'Fiddle Fader is safe.']);
    expect(differing(held(), before)).toEqual([]);
  });

  test('in live mode what gets much louder, and phantom power, wait for a hold; in the studio they do not', async () => {
    await hands({ 'in.1/fader/level': -20, 'in.1/mute/on': false, 'in.1/preamp/phantom': false });
    const before = held();
    const loud: SettingsByAddress[] = [{ 'in.1/fader/level': 5 }, { 'in.1/preamp/phantom': true }];
    for (const settings of loud) expect((await move(settings)).body.type).toBe('urn:old-echo:unanswered');
    expect(differing(held(), before)).toEqual([]);
    expect((await move({ 'in.1/fader/level': -17 })).status).toBe(200);
    await edit({ mode: 'studio' });
    expect((await move({ 'in.1/fader/level': 0, 'in.1/preamp/phantom': true })).status).toBe(200);
    expect(held()).toMatchObject({ 'in.1/fader/level': 0, 'in.1/preamp/phantom': true });
  });

  test('small steps that follow one another are counted together', async () => {
    await hands({ 'in.1/fader/level': -20, 'in.1/mute/on': false });
    // At once: how long the machine takes for each is no pause of the hand.
    const steps = [-18, -16, -14, -12, -10, -8].map((level) => move({ 'in.1/fader/level': level }));
    const answers = await Promise.all(steps);
    expect(answers.map(({ status }) => status)).toContain(409);
    expect(Number(held()['in.1/fader/level'])).toBeLessThan(-13);
  });
});

describe('what a desk is meant to hold', () => {
  test('follows a part that came back, its way back, and everything put back', async () => {
    await hands({ 'in.1/fader/level': -21, 'in.4/fader/level': -22, 'in.4/eq/2/gain': 2 });
    const first = (await rig.capture('Meant first')).body;
    await hands({ 'in.1/fader/level': -11, 'in.4/fader/level': -12, 'in.4/eq/2/gain': -2, 'main.1/fader/level': -6 });
    const second = (await rig.capture('Meant second')).body;
    expect(await drifted()).toEqual([]);

    const restore = await rig.restore(first.id, FADER_OF_TWO);
    expect(restore.report?.confirmed).toBe(2);
    expect(held()).toMatchObject({ 'in.1/fader/level': -21, 'in.4/fader/level': -22, 'in.4/eq/2/gain': -2 });
    expect(await drifted()).toEqual([]);
    const { baseline: view, scene } = await deskNamed('Quay 48');
    expect(view!.line).toContain('Meant first');
    expect(scene!.id).toBe(second.id);

    await rig.restore(restore.wayBack!.sceneId, restore.wayBack!.scope);
    expect(await drifted()).toEqual([]);
    expect(differing(await baseline(), flat(await rig.stateOf(second.id)))).toEqual([]);

    const meant = held();
    await hands({ 'in.9/fader/level': -33, 'in.9/pan/position': 31, 'mix.1/fader/level': -18 });
    expect((await drifted()).sort()).toEqual(['in.9/fader/level', 'in.9/pan/position', 'mix.1/fader/level']);
    const back = await rig.restored(putBackRecall(rig.desk.id, ALL_EXCEPT_GLOBALS));
    expect(back.report?.confirmed).toBe(3);
    expect(differing(held(), meant)).toEqual([]);
  });

  test('a scene that is captured after a part came back descends from all of it', async () => {
    const { body } = await rig.capture('Meant third');
    await rig.restore((await rig.scene('Meant first')).id, FADER_OF_TWO);
    const next = (await rig.capture('Meant fourth')).body;
    expect(differing(flat(await rig.stateOf(next.id)), flat(await rig.stateOf(body.id))).sort()).toEqual([
      'in.1/fader/level',
      'in.4/fader/level',
    ]);
  });
});

describe('a pair with a stereo link', () => {
  test('moved at one half, it stands alike at both, and pans apart', async () => {
    const [left, right] = ['in.45', 'in.46'];
    expect(held()[`${left}/source/link`]).toBe(true);
    const { body } = await rig.post<{ unconfirmed: unknown[] }>(`/desks/${rig.desk.id}/settings`, {
      settings: { [`${left}/fader/level`]: -12.5, [`${left}/pan/position`]: -60 },
    });
    expect(body.unconfirmed).toEqual([]);
    expect([held()[`${left}/fader/level`], held()[`${right}/fader/level`]]).toEqual([-12.5, -12.5]);
    expect(held()[`${left}/pan/position`]).toBe(-60);
    expect(held()[`${right}/pan/position`]).not.toBe(-60);
  });
});

describe('a scene by a name that is taken', () => {
  test('is told with a free one; replaced, its words are the new ones and the old one is in the bin', async () => {
    const old = (await rig.capture('Twice told')).body;
    const version = rig.production.versions[0]!.id;
    const free = await rig.get<{ name: string; taken: SceneView }>(
      `/versions/${version}/unique-name?name=Twice%20told`,
    );
    expect([free.body.name, free.body.taken.id]).toEqual(['Twice told 2', old.id]);
    expect((await rig.capture('Twice told')).status).toBe(409);
    await hands({ 'in.5/fader/level': -29 });
    const made = await rig.post<SceneView>(`/desks/${rig.desk.id}/scene-replacements`, {
      sceneId: old.id,
      revision: old.revision,
      note: 'Later words.',
      tags: ['later'],
    });
    expect([made.status, made.body.name, made.body.note, made.body.tags]).toEqual([
      201,
      'Twice told',
      'Later words.',
      ['later'],
    ]);
    expect(flat(await rig.stateOf(made.body.id))['in.5/fader/level']).toBe(-29);
    expect((await rig.get<SceneView>(`/scenes/${old.id}`)).body.binnedAt).not.toBeNull();
    const again = await rig.post<Problem>(`/desks/${rig.desk.id}/scene-replacements`, { sceneId: old.id, revision: 1 });
    expect(again.status).toBeGreaterThanOrEqual(404);
  });
});

describe('what was last heard', () => {
  /** What a page that is opened fresh on a desk is told first. */
  async function opened(desk: string): Promise<LiveMessage[]> {
    const told: LiveMessage[] = [];
    const socket = new WebSocket(`ws://127.0.0.1:${rig.running.port}/api/live?desk=${desk}`);
    socket.on('message', (data: Buffer) => told.push(JSON.parse(data.toString()) as LiveMessage));
    await until(() => told.some((message) => message.type === 'desk'));
    socket.terminate();
    return told;
  }

  test('a desk that never answered has nothing to show, and says so', async () => {
    const { id, heardAt, link } = await deskNamed('Boathouse');
    expect([heardAt, link.state]).toEqual([null, 'unlinked']);
    const state = await rig.get<Problem>(`/desks/${id}/state`);
    expect([state.status, state.body.title]).toEqual([503, 'Boathouse has no address yet.']);
    expect((await opened(id)).map(({ type }) => type)).not.toContain('state');
  });

  test('outlives the server, from the moment it was last heard and not from its last move', async () => {
    await hands({ 'in.8/fader/level': -27.5 });
    const moved = Date.now();
    await new Promise((resolve) => setTimeout(resolve, 4000));
    rig.front.freeze(true);
    await until(async () => (await deskNamed('Quay 48')).link.state === 'unlinked');
    await until(async () => Date.parse((await deskNamed('Quay 48')).heardAt!) >= moved + 3000);
    await rig.running.close();
    const started = rig.start();
    await until(async () => {
      const answer = await deskNamed('Quay 48').catch(() => undefined);
      return answer?.link.state === 'unlinked';
    });
    const { heardAt } = await deskNamed('Quay 48');
    expect(Date.parse(heardAt!)).toBeGreaterThanOrEqual(moved + 3000);
    const told = await opened(rig.desk.id);
    expect(told.map(({ type }) => type).slice(0, 2)).toEqual(['full-state', 'desk']);
    const state = told.find((message) => message.type === 'full-state')!;
    expect(flat(state.state)['in.8/fader/level']).toBe(-27.5);
    // It comes back with other values: those are what is so.
    rig.front.hands({ 'in.8/fader/level': -5 });
    rig.front.freeze(false);
    await started;
    expect(flat((await rig.get<State>(`/desks/${rig.desk.id}/state`)).body)['in.8/fader/level']).toBe(-5);
  });
});
