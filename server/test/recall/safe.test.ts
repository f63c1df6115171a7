import { type RestoreView, resumeRecall, sceneRecall } from '@old-echo/core/contracts/restore';
import type { SceneView } from '@old-echo/core/contracts/scene';
import type { SettingsByAddress } from '@old-echo/core/desk/state';
import type { Point } from '@old-echo/core/recall/caution';
import { ALL_EXCEPT_GLOBALS, type Scope } from '@old-echo/core/recall/scope-rules';
import { AUDIBLE_PATH_GAIN_DB } from '@old-echo/core/signal/thresholds';
import { realTime } from '@old-echo/testing/real-time';

import { type Answer, differing, flat, Rig, tape, until } from '../server-rig';

jest.setTimeout(240_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());
async function asAtFirst() {
  rig.front.misbehave({});
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { showLock: false });
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { mode: 'live', handHolds: 'control', safes: [] });
  await rig.linked();
}
afterEach(asAtFirst);
const inTime = realTime(asAtFirst);

const held = () => rig.front.desk.settings();
const value = (address: string) => rig.front.desk.value(address);
const levels = (of: readonly number[], level: number): SettingsByAddress =>
  Object.fromEntries(of.map((n) => [`in.${n}/fader/level`, level]));
const problem = ({ status, body }: Answer) => [status, (body as { type?: string }).type];
const faders: Scope = [{ strips: ['in'], sections: ['fader', 'mute'], include: true }];
const MANY = Array.from({ length: 40 }, (_, i) => i + 1);
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Scenes so far: each has a name of its own. */
let captured = 0;

/** Captures the desk as it is set here, moves it elsewhere, and waits until the server has heard of that. */
async function between(
  name: string,
  there: SettingsByAddress,
  here: SettingsByAddress,
  scope: Scope = faders,
): Promise<SceneView> {
  rig.front.hands(there);
  await wait(80);
  const scene = (await rig.capture(`${name} ${++captured}`)).body;
  rig.front.hands(here);
  const moves = Object.keys(here).filter((address) => JSON.stringify(here[address]) !== JSON.stringify(there[address]));
  await until(async () => (await rig.preview(scene.id, scope)).changes.length >= moves.length);
  return scene;
}
const begin = (scene: SceneView, more: object = {}, scope: Scope = faders) =>
  rig.beginNow(sceneRecall(rig.desk.id, scene.id, scope), more);

describe('a single move by hand in the middle of a fade wins', () => {
  // 40 hands on 40 strips at random moments, each once: 200 of 200 in all. Every one is where the hand put it, and named.
  test.each<[string, object]>([
    ['on a clean line', {}],
    ['at 20 ms', { delay: 20, seed: 3 }],
    ['at 50 ms', { delay: 50, seed: 4 }],
    ['at 200 ms', { delay: 200, seed: 5 }],
    ['at 30 % loss', { loss: 0.3, seed: 6 }],
  ])(
    '%s',
    inTime(async (name, line) => {
      const scene = await between(`Hands ${name}`, levels(MANY, -10), levels(MANY, -40));
      rig.front.misbehave(line);
      const { id } = await begin(scene, { fade: 1.5 });
      const put: Record<string, number> = {};
      await Promise.all(
        MANY.map(async (n, i) => {
          await wait(150 + ((i * 997) % 1000));
          const address = `in.${n}/fader/level`;
          put[address] = Math.round(-613 - i) / 10;
          rig.front.hands({ [address]: put[address] });
        }),
      );
      const { report, status } = await rig.ended(id);
      await wait(300);
      expect(MANY.filter((n) => value(`in.${n}/fader/level`) !== put[`in.${n}/fader/level`])).toEqual([]);
      expect([status, report?.handled.length, report?.unconfirmed.length]).toEqual(['incomplete', 40, 40]);
    }),
  );

  test(
    'it holds that control: neither its strip nor the other half of its pair',
    inTime(async () => {
      const pair = [2, 3];
      const there = { ...levels([2, 3, 4], -10), 'in.2/eq/1/gain': 4, 'in.3/eq/1/gain': 4 };
      const here = { ...levels([2, 3, 4], -40), 'in.2/eq/1/gain': 0, 'in.3/eq/1/gain': 0 };
      const scope: Scope = [{ strips: ['in'], sections: ['fader', 'eq'], include: true }];
      const scene = await between('A pair', there, here, scope);
      const { id } = await begin(scene, { fade: 1 }, scope);
      await wait(300);
      rig.front.hands({ 'in.2/fader/level': -33.3, 'in.4/eq/3/freq': 4444 });
      const { report } = await rig.ended(id);
      expect(pair.map((n) => value(`in.${n}/fader/level`))).toEqual([-33.3, -10]);
      expect([value('in.2/eq/1/gain'), value('in.4/fader/level')]).toEqual([4, -10]);
      expect(report?.handled).toEqual([expect.stringMatching(/ fader$/)]);
    }),
  );

  test(
    'a mute that is no part of the restore holds nothing but itself',
    inTime(async () => {
      const scene = await between('A mute beside it', levels([5], -10), levels([5], -40));
      const { id } = await begin(scene, { fade: 1 }, [{ strips: ['in.5'], sections: ['fader'], include: true }]);
      await wait(300);
      rig.front.hands({ 'in.5/mute/on': value('in.5/mute/on') !== true });
      expect((await rig.ended(id)).status).toBe('confirmed');
      expect(value('in.5/fader/level')).toBe(-10);
    }),
  );

  test(
    'or its whole strip, where the desk is set so',
    inTime(async () => {
      await rig.call('PATCH', `/desks/${rig.desk.id}`, { handHolds: 'strip' });
      const scope: Scope = [{ strips: ['in'], sections: ['fader', 'pan'], include: true }];
      const scene = await between(
        'A strip',
        { ...levels([5, 6], -10), 'in.5/pan/position': 20 },
        { ...levels([5, 6], -40), 'in.5/pan/position': -50 },
        scope,
      );
      const { id } = await begin(scene, { fade: 1 }, scope);
      await wait(300);
      rig.front.hands({ 'in.5/eq/3/freq': 3333 });
      const { report } = await rig.ended(id);
      expect(value('in.5/fader/level')).toBeLessThan(-10);
      expect(value('in.6/fader/level')).toBe(-10);
      expect(report?.handled.length).toBe(2);
    }),
  );

  test(
    'a person who moves it in the app is a hand as well',
    inTime(async () => {
      const scene = await between('An app', levels([5, 6], -10), levels([5, 6], -40));
      const { id } = await begin(scene, { fade: 1 });
      await wait(300);
      await rig.post(`/desks/${rig.desk.id}/settings`, { settings: { 'in.5/fader/level': -44 } });
      await rig.ended(id);
      expect([value('in.5/fader/level'), value('in.6/fader/level')]).toEqual([-44, -10]);
    }),
  );

  test(
    'a mute that a hand opens again in front of a level that falls stays open, and its level is not pulled up behind it',
    inTime(async () => {
      const scene = await between(
        'Closing',
        { 'in.5/mute/on': true, ...levels([5], -3) },
        { 'in.5/mute/on': false, ...levels([5], -20) },
      );
      const { id } = await begin(scene, { fade: 1 });
      await wait(400);
      rig.front.hands({ 'in.5/mute/on': true });
      rig.front.hands({ 'in.5/mute/on': false });
      const { report } = await rig.ended(id);
      expect(value('in.5/mute/on')).toBe(false);
      expect(value('in.5/fader/level')).toBeLessThan(-20);
      expect(report?.unconfirmed.map(({ address }) => address).sort()).toEqual(['in.5/fader/level', 'in.5/mute/on']);
    }),
  );
});

describe('stop, and the way back', () => {
  const scene = (name: string) => between(name, levels(MANY, -8), levels(MANY, -60));

  test(
    'stop leaves everything where it is within 50 ms, and the report says where',
    inTime(async () => {
      const { id } = await begin(await scene('Stopped'), { fade: 3 });
      await wait(900);
      await Promise.all([rig.post(`/restores/${id}/cancel`, { how: 'stop' }), wait(50)]);
      const then = held();
      const { status, report } = await rig.ended(id);
      await wait(200);
      expect([status, differing(then, held())]).toEqual(['cancelled', []]);
      expect(report?.unconfirmed.map(({ address, found }) => [address, found])).toEqual(
        report?.unconfirmed.map(({ address }) => [address, then[address]]),
      );
      expect(report?.unconfirmed.length).toBe(40);
    }),
  );

  test(
    'finished after that, it goes on as a fade from where it is',
    inTime(async () => {
      const { id } = await begin(await scene('Went on'), { fade: 3 });
      await wait(900);
      await rig.post(`/restores/${id}/cancel`, { how: 'stop' });
      await rig.ended(id);
      const from = Number(value('in.1/fader/level'));
      const on = tape(held, ['in.1/fader/level']);
      const { status } = await rig.ended((await rig.beginNow(resumeRecall(rig.desk.id, id, 'finish'), { fade: 1 })).id);
      on.stop();
      const heard = on.took.map(([, values]) => Number(values['in.1/fader/level']));
      expect([status, heard[0], heard.at(-1)]).toEqual(['confirmed', from, -8]);
      expect(heard).toEqual(heard.toSorted((a, b) => a - b));
      expect(new Set(heard).size).toBeGreaterThan(8);
    }),
  );

  test.each([
    ['roll back at once', 0, 1300],
    ['roll back', 1400, 4000],
  ] as const)(
    '%s leads to where it was, in its time',
    inTime(async (how, least, most) => {
      const before = await scene(`Back: ${how}`).then((made) => ({ made, held: held() }));
      const { id } = await begin(before.made, { fade: 1.5 });
      await wait(900);
      const asked = performance.now();
      await rig.post(`/restores/${id}/cancel`, { how });
      await until(() => value('in.1/fader/level') === -60, 6000);
      const took = performance.now() - asked;
      expect((await rig.ended(id)).status).toBe('rolled back');
      expect(differing(before.held, held())).toEqual([]);
      expect([took >= least, took <= most]).toEqual([true, true]);
    }),
  );

  test(
    'whoever goes back as a fade can still go back at once',
    inTime(async () => {
      const made = await scene('Back twice');
      const { id } = await begin(made, { fade: 8 });
      await wait(700);
      await rig.post(`/restores/${id}/cancel`, { how: 'roll back' });
      await wait(300);
      const asked = performance.now();
      await rig.post(`/restores/${id}/cancel`, { how: 'roll back at once' });
      expect((await rig.ended(id)).status).toBe('rolled back');
      expect(performance.now() - asked).toBeLessThan(4000);
      expect(value('in.1/fader/level')).toBe(-60);
    }),
  );
});

describe('a capture in the middle of a restore', () => {
  test(
    'is refused, and says who is at work; before its end nothing is captured',
    inTime(async () => {
      const scene = await between('Whole', levels(MANY, -8), levels(MANY, -60));
      const { id } = await begin(scene, { fade: 1, by: 'Ida' });
      const answer = await rig.capture('Half');
      expect([answer.status, (answer.body as unknown as { title: string }).title]).toEqual([
        423,
        expect.stringMatching(/^Ida is restoring \d+ Whole \d+ on this desk for \d+ s\.$/),
      ]);
      await rig.ended(id);
      expect((await rig.capture('Whole again')).status).toBe(201);
    }),
  );

  test(
    'a restore that is asked for while a capture reads waits for it; what was captured is one state',
    inTime(async () => {
      const scene = await between('Either', levels(MANY, -8), levels(MANY, -60));
      rig.front.misbehave({ delay: 60, seed: 8 });
      const [captured, restore] = await Promise.all([rig.capture('Read whole'), wait(20).then(() => begin(scene))]);
      await rig.ended(restore.id);
      const read = flat(await rig.stateOf(captured.body.id));
      expect(new Set(MANY.map((n) => read[`in.${n}/fader/level`])).size).toBe(1);
    }),
  );
});

describe('what was looked at', () => {
  const answersOf = async (scene: SceneView) =>
    (await rig.preview(scene.id, faders)).cautions.map(({ points }) => ({
      way: 'checked' as const,
      points: [...points],
    }));
  const ask = (scene: SceneView, fingerprint: string, answers: { way: 'checked'; points: Point[] }[] = []) =>
    rig.post<RestoreView>(`/desks/${rig.desk.id}/restores`, {
      recall: sceneRecall(rig.desk.id, scene.id, faders),
      fingerprint,
      answers,
    });

  test(
    'a hand that rides between preview and restore is worked in; one that makes it reach further asks again',
    inTime(async () => {
      rig.front.hands({ 'main.1/fader/level': 0, 'in.1/mute/on': false, 'in.1/preamp/gain': 20 });
      const scene = await between('Ridden', levels([1, 2], -8), levels([1, 2], -17));
      const { fingerprint } = await rig.preview(scene.id, faders);
      const answers = await answersOf(scene);
      expect(answers.length).toBeGreaterThan(0);
      for (let ride = 0; ride < 10; ride++) rig.front.hands(levels([1], -16 - ride / 10));
      const ridden = await ask(scene, fingerprint, answers);
      expect(ridden.status).toBe(202);
      await rig.ended(ridden.body.id);
      expect(value('in.1/fader/level')).toBe(-8);
      rig.front.hands(levels([1], -50));
      await until(async () =>
        (await rig.preview(scene.id, faders)).cautions.some(({ items }) => items[0]?.rise?.toFixed(1) === '42.0'),
      );
      expect(problem(await ask(scene, fingerprint, answers))).toEqual([409, 'urn:old-echo:unanswered']);
    }),
  );

  test(
    'a transition that was accepted is not asked again, what differs from it is; it can be forgotten',
    inTime(async () => {
      const quiet = await between('Quiet song', levels([1, 2], -30), levels([1, 2], -30), []);
      const loud = await between('Loud song', levels([1, 2], -8), levels([1, 2], -30));
      await rig.restored(sceneRecall(rig.desk.id, quiet.id, ALL_EXCEPT_GLOBALS));
      const go = async () => ask(loud, (await rig.preview(loud.id, faders)).fingerprint);
      expect(problem(await go())).toEqual([409, 'urn:old-echo:unanswered']);
      const first = await ask(loud, (await rig.preview(loud.id, faders)).fingerprint, await answersOf(loud));
      await rig.ended(first.body.id);
      await rig.restored(sceneRecall(rig.desk.id, quiet.id, ALL_EXCEPT_GLOBALS));
      const again = await go();
      expect(again.status).toBe(202);
      const ended = await rig.ended(again.body.id);
      expect(ended.answered.map(({ way }) => way)).toContain('accepted before');
      await rig.restored(sceneRecall(rig.desk.id, quiet.id, ALL_EXCEPT_GLOBALS));
      rig.front.hands({ ...levels([1], -60) });
      await until(async () =>
        (await rig.preview(loud.id, faders)).cautions.some(({ items }) => items[0]?.rise?.toFixed(1) === '52.0'),
      );
      expect(problem(await go())).toEqual([409, 'urn:old-echo:unanswered']);
      rig.front.hands({ ...levels([1], -30) });
      const pair = `from=${quiet.id}&to=${loud.id}`;
      expect((await rig.get<Point[]>(`/desks/${rig.desk.id}/accepted?${pair}`)).body.length).toBeGreaterThan(0);
      await rig.call('DELETE', `/desks/${rig.desk.id}/accepted?${pair}`);
      await until(async () => (await rig.preview(loud.id, faders)).changes.length === 2);
      expect(problem(await go())).toEqual([409, 'urn:old-echo:unanswered']);
    }),
  );

  test(
    'with the show lock on, neither mode, thresholds, safes nor what a hand holds can be changed',
    inTime(async () => {
      const edit = (change: object) => rig.call('PATCH', `/desks/${rig.desk.id}`, change);
      await edit({ showLock: true });
      for (const change of [
        { mode: 'studio' },
        { thresholds: { path: 1, monitor: 6, master: 3, gain: 6 } },
        { safes: [] },
        { handHolds: 'strip' },
        { showLock: false, mode: 'studio' },
      ])
        expect(problem(await edit(change))).toEqual([423, 'urn:old-echo:show-lock']);
      expect((await edit({ showLock: false })).status).toBe(200);
      expect((await edit({ mode: 'studio' })).status).toBe(200);
    }),
  );
});

describe('a fade is heard as one', () => {
  const heard = (level: number) => level > AUDIBLE_PATH_GAIN_DB;

  test(
    'what opens is opened at −∞ and rises, what closes falls and is closed then, both at the same time',
    inTime(async () => {
      const scene = await between(
        'Over',
        { 'in.1/mute/on': false, 'in.2/mute/on': true, ...levels([1, 2], -6) },
        { 'in.1/mute/on': true, 'in.2/mute/on': false, ...levels([1, 2], -6) },
      );
      const on = tape(held, ['in.1/mute/on', 'in.1/fader/level', 'in.2/mute/on', 'in.2/fader/level']);
      const { id } = await begin(scene, { fade: 1 });
      const { status, report } = await rig.ended(id);
      on.stop();
      expect([status, report?.jumped]).toEqual(['confirmed', []]);
      expect(held()).toMatchObject({ 'in.1/fader/level': -6, 'in.2/fader/level': -6 });
      const path = (n: number) =>
        on.took.map(([ms, v]) => [ms, v[`in.${n}/mute/on`] === true ? -90 : Number(v[`in.${n}/fader/level`])] as const);
      // How even it is, frame by frame, is filmed in the core; here, that the desk was really taken along.
      for (const n of [1, 2]) {
        const levels = path(n).map(([, level]) => level);
        const steps = levels.slice(1).map((to, i) => (heard(to) ? Math.abs(to - levels[i]!) : 0));
        expect([new Set(levels).size > 15, Math.max(...steps) < 15]).toEqual([true, true]);
      }
      const [opening, closing] = [path(1), path(2)];
      expect(opening.some(([, level], i) => heard(level) && heard(closing[i]![1]))).toBe(true);
    }),
  );

  test(
    'what cannot fade goes on behind a fade of its own level, down and up; what jumps is told',
    inTime(async () => {
      const scope: Scope = [{ strips: ['in'], sections: ['fader', 'mute', 'routing', 'eq'], include: true }];
      const scene = await between(
        'Other group',
        { ...levels([1], -6), 'in.1/mute/on': false, 'in.1/routing/group.3': true, 'in.4/eq/on': true },
        { ...levels([1], -6), 'in.1/mute/on': false, 'in.1/routing/group.3': false, 'in.4/eq/on': false },
        scope,
      );
      rig.front.hands({ 'in.4/mute/on': false });
      const on = tape(held, ['in.1/routing/group.3', 'in.1/fader/level']);
      const { id } = await begin(scene, { fade: 1 }, scope);
      const { status, report } = await rig.ended(id);
      on.stop();
      expect([status, report?.jumped]).toEqual(['confirmed', ['in.4/eq/on']]);
      const at = on.took.findIndex(([, values]) => values['in.1/routing/group.3'] === true);
      expect(Number(on.took[at]![1]['in.1/fader/level'])).toBe(-90);
      expect(value('in.1/fader/level')).toBe(-6);
    }),
  );

  test(
    'a level that is safe does not move for a mute that fades',
    inTime(async () => {
      const scene = await between(
        'Safe',
        { 'in.1/mute/on': true, ...levels([1], -6) },
        { 'in.1/mute/on': false, ...levels([1], -6) },
      );
      await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [{ strips: ['in.1'], sections: ['fader'] }] });
      const on = tape(held, ['in.1/fader/level']);
      const { id } = await begin(scene, { fade: 0.5 });
      await rig.ended(id);
      on.stop();
      expect(new Set(on.took.map(([, values]) => values['in.1/fader/level']))).toEqual(new Set([-6]));
      expect(value('in.1/mute/on')).toBe(true);
    }),
  );
});
