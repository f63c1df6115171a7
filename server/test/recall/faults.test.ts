import fc from 'fast-check';

import { type Recall, type RestoreView, resumeRecall, sceneRecall } from '@old-echo/core/contracts/restore';
import { readAddress, sectionOf } from '@old-echo/core/desk/address';
import { specOf, stripFamily } from '@old-echo/core/desk/profile';
import type { SettingSpec, Value } from '@old-echo/core/desk/setting';
import { addressesOf, type SettingsByAddress } from '@old-echo/core/desk/state';
import { compileScope, decisionFor } from '@old-echo/core/recall/compile-scope';
import type { Journal } from '@old-echo/core/recall/recall-target';
import { ALL_EXCEPT_GLOBALS, type Safes, type Scope } from '@old-echo/core/recall/scope-rules';
import { faultRow } from '@old-echo/testing/fault-rows';
import { quay } from '@old-echo/testing/profiles';
import { anyValue } from '@old-echo/testing/random-state';
import { FULL, times } from '@old-echo/testing/runs';

import { differing, flat, Rig, until } from '../server-rig';
import { chance, expectAt, expectJournaled, moved, wasIn } from './fault-steps';

jest.setTimeout(FULL ? 3_600_000 : 300_000);

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
describe('on one server', () => {
  let rig: Rig;
  beforeAll(async () => {
    rig = await Rig.open();
    await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [] });
  });
  afterAll(() => rig.close());
  afterEach(async () => {
    rig.front.misbehave({});
    rig.front.freeze(false);
    rig.front.refuse([]);
    rig.front.desk.round({});
    await rig.linked();
  });
  const held = () => rig.front.desk.settings();
  const journal = async (id: string) => (await rig.get<Journal>(`/restores/${id}/journal`)).body;
  async function captured(name: string, moves: SettingsByAddress): Promise<Recall> {
    const scene = (await rig.capture(name)).body;
    rig.front.hands(moves);
    await until(
      async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === Object.keys(moves).length,
    );
    return sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS);
  }

  test('30 % of the packets lost, reordered, delayed by up to 200 ms: all confirmed, nothing outside the preview', async () => {
    const moves = moved(held(), times(60, 500));
    const recall = await captured('Through a bad line', moves);
    const before = held();
    rig.front.misbehave({ loss: 0.3, reorder: 0.3, delay: 200, seed: 11 });
    const restore = await rig.ended((await rig.beginNow(recall)).id);
    rig.front.misbehave({});
    expect([restore.status, restore.report?.confirmed]).toEqual(['confirmed', restore.changes]);
    expectAt('finish', await journal(restore.id), before, held());
    faultRow(
      '30 % lost, reordered, up to 200 ms late',
      `${restore.changes} settings`,
      `${restore.report?.confirmed} confirmed in ${restore.report?.milliseconds} ms, none outside the preview`,
    );
  });

  const stages = FULL ? ['guard', 'patch', 'process', 'level', 'release', 'verify'] : ['level'];
  test.each([...stages.map((stage) => ['frozen for 5 s', stage]), ...stages.map((stage) => ['dead and back', stage])])(
    'the desk is %s in the stage %s: the report is honest, and both ends can be reached',
    async (fault, stage) => {
      for (const how of ['finish', 'roll back'] as const) {
        const recall = await captured(`${fault} in ${stage}, ${how}`, moved(held(), 60));
        const before = held();
        // What is verified is asked for all at once: it has to last until the fault is there.
        rig.front.misbehave({ delay: stage === 'verify' ? 200 : 20, seed: 3 });
        const page = await rig.page();
        // Levels have to move for longer than it takes to be told of them.
        const { id } = await rig.beginNow(recall, { fade: stage === 'level' ? 3 : 0.2 });
        await until(() => wasIn(page.told, stage));
        page.close();
        if (fault === 'dead and back') await rig.powerCut(3000);
        else {
          rig.front.freeze(true);
          await pause(5000);
          rig.front.freeze(false);
        }
        rig.front.misbehave({});
        const { status, report } = await rig.ended(id);
        const plan = await journal(id);
        const open = new Set(report?.unconfirmed.map((u) => u.address));
        // What is called confirmed stands; every setting is either that or named.
        for (const { address, to } of plan.changes)
          if (!open.has(address)) expect([address, held()[address]]).toEqual([address, to]);
        // Levels that only moved aside are named as well, and are none of its changes.
        const failed = plan.changes.filter(({ address }) => open.has(address));
        expect((report?.confirmed ?? 0) + failed.length).toBe(plan.changes.length);
        expect(status).toBe('incomplete');
        await rig.linked();
        expect((await rig.ended((await rig.beginNow(resumeRecall(rig.desk.id, id, how))).id)).status).toBe('confirmed');
        expectAt(how, plan, before, held());
        faultRow(
          `${fault} in ${stage}`,
          how,
          `${report?.confirmed} of ${plan.changes.length} confirmed at the fault; then the whole desk as promised`,
        );
      }
    },
  );

  test('a refusal and a value that the desk rounds are named for what they are, and nothing else is', async () => {
    const recall = await captured('Refused and rounded', {
      'in.1/fader/level': -41.3,
      'in.2/fader/level': -42,
      'in.3/fader/level': -43,
    });
    const scene = flat(await rig.stateOf(recall.sceneId ?? ''));
    rig.front.hands({ 'in.1/fader/level': -50, 'in.2/fader/level': -50, 'in.3/fader/level': -50 });
    rig.front.refuse(['in.2/fader/level']);
    const off = Number(scene['in.1/fader/level']);
    // A step that the scene's level does not fall on, and not so far off that it could be a hand.
    rig.front.desk.round({ 'in.1/fader/level': off % 0.5 === 0 ? 0.7 : 0.5 });
    const { status, report } = await rig.ended((await rig.beginNow(recall)).id);
    expect([status, report?.handled]).toEqual(['incomplete', []]);
    expect(report?.unconfirmed.map((u) => [u.address, u.why])).toEqual([
      ['in.1/fader/level', 'The desk reads back a different value; it may round this setting.'],
      ['in.2/fader/level', 'The desk refused it: the desk is not taking it at the moment.'],
    ]);
    faultRow('a refusal and a rounded value', '2 of 3 settings', 'both named with the reason, the third confirmed');
  });

  test('hands move 20 faders during a fade: each is left where it was put, and all are named', async () => {
    const faders = Array.from({ length: 40 }, (_, i) => `in.${i + 1}/fader/level`);
    rig.front.hands(Object.fromEntries(faders.map((address, i) => [address, -20 - i / 10])));
    const recall = await captured(
      'Before the hands',
      Object.fromEntries(faders.map((address, i) => [address, -50 - i / 10])),
    );
    const page = await rig.page();
    const { id } = await rig.beginNow(recall, { fade: 1.5 });
    await until(() =>
      page.told.some(
        (m) => m.type === 'restore' && m.restore.progress?.stage === 'level' && m.restore.progress.done > 8,
      ),
    );
    page.close();
    const hands: Record<string, Value> = {};
    for (const [i, address] of faders.slice(0, 20).entries()) {
      hands[address] = -8 - i / 10;
      rig.front.hands({ [address]: hands[address] });
      await pause(12);
    }
    const { report } = await rig.ended(id);
    expect(held()).toMatchObject(hands);
    expect(report?.handled).toHaveLength(20);
    expect(report?.unconfirmed.map((u) => u.address).sort()).toEqual(faders.slice(0, 20).sort());
    const stored = flat(await rig.stateOf(recall.sceneId ?? ''));
    for (const address of faders.slice(20)) expect(held()[address]).toBe(stored[address]);
    faultRow(
      'hands on 20 of 40 faders during a fade',
      '20 hands',
      '20 left where they were put and named, 20 restored',
    );
  });

  test('hands, stops and ways back at random moments of a fade: hands stand, and all else is at one end after it', async () => {
    const ends = { none: 0, stop: 0, 'roll back': 0, 'roll back at once': 0 };
    let hands = 0;
    const runs = times(4, 100);
    for (let run = 0; run < runs; run++) {
      rig.front.misbehave({});
      const recall = await captured(`Random ${run}`, moved(held(), 40));
      const before = held();
      if (chance() < 0.5) rig.front.misbehave({ loss: 0.2 * chance(), delay: 60 * chance(), seed: run });
      const { id } = await rig.beginNow(recall, { fade: 0.3 + chance() });
      const put: Record<string, Value> = {};
      const { changes } = await journal(id);
      const levels = changes.filter(({ key }) => key === 'fader/level' || key.endsWith('gain'));
      const how = (Object.keys(ends) as (keyof typeof ends)[])[run % 4]!;
      await Promise.all([
        ...Array.from({ length: 4 }, async () => {
          await pause(1500 * chance());
          const address = levels[Math.floor(chance() * levels.length)]?.address;
          if (address === undefined) return;
          put[address] = Math.round(-300 - 200 * chance()) / 10;
          if (address.endsWith('gain')) put[address] = 3.5;
          rig.front.hands({ [address]: put[address] });
        }),
        pause(900 * chance()).then(async () => {
          if (how !== 'none') await rig.post(`/restores/${id}/cancel`, { how });
        }),
      ]);
      const ended = await rig.ended(id);
      rig.front.misbehave({});
      await pause(100);
      ends[how]++;
      hands += Object.keys(put).length;
      expect(held()).toMatchObject(put);
      // What is not called confirmed is named; a stop is finished or rolled back from its journal.
      const back = ended.status === 'rolled back' || (how !== 'none' && how !== 'stop') || chance() < 0.5;
      const end = await rig.restored(resumeRecall(rig.desk.id, id, back ? 'roll back' : 'finish'));
      expect(end.report?.unconfirmed).toEqual([]);
      const taken = new Set(Object.keys(put));
      const wanted = { ...before };
      if (!back) for (const { address, to } of changes) wanted[address] = to;
      const wrong = differing(wanted, held()).filter((address) => !taken.has(address));
      expect(wrong).toEqual([]);
    }
    faultRow(
      'hands, stops and ways back at random moments',
      `${runs} fades, ${hands} hands`,
      `${Object.entries(ends)
        .map(([end, times]) => `${times} ${end === 'none' ? 'to the end' : end}`)
        .join(', ')}; each hand stood, all else at one end`,
    );
  });

  test('two restores asked for at the same moment: never both', async () => {
    const both = times(8, 200);
    const counts = { one: 0, busy: 0, moved: 0 };
    for (let i = 0; i < both; i++) {
      const one = await captured(`One of two ${i}`, moved(held(), 20));
      const other = await captured(`Other of two ${i}`, moved(held(), 20));
      const recalls = i % 2 === 0 ? [one, other] : [other, one];
      const answers = await Promise.all(recalls.map((recall) => rig.begin(recall)));
      const began = answers.filter((answer) => answer.status === 202);
      const recall = recalls[answers.findIndex((answer) => answer.status === 202)]!;
      counts.one += began.length;
      counts.busy += answers.filter((answer) => answer.status === 423).length;
      counts.moved += answers.filter((answer) => answer.status === 409).length;
      expect(began).toHaveLength(1);
      const restore = await rig.ended(began[0]!.body.id);
      expect(restore.status).toBe('confirmed');
      expect(differing(held(), flat(await rig.stateOf(recall.sceneId ?? '')))).toEqual([]);
    }
    expect(counts.one).toBe(both);
    faultRow(
      'restores of two scenes at the same moment',
      `${both} pairs`,
      `one of each began; the other was told: ${counts.busy} busy, ${counts.moved} to look again`,
    );
  });

  test('any state, scope and safes: chosen cells are as in the scene, all others as before, and the way back leads back', async () => {
    // Sources and 48 V settle for a second each time; one of them is enough.
    const addresses = addressesOf(quay).filter(
      (address) => !/phantom/.test(address) || address === 'in.1/preamp/phantom',
    );
    const settings = fc
      .uniqueArray(fc.constantFrom(...addresses), { minLength: 20, maxLength: 60 })
      .chain((some) => fc.record(Object.fromEntries(some.map((a) => [a, anyValue(specOf(quay, a) as SettingSpec)]))));
    const strips = fc.subarray(['*', 'in', 'fx', 'mix', 'main', 'desk', 'in.1', 'in.2', 'in.30', 'mix.3'], {
      minLength: 1,
      maxLength: 3,
    });
    const sections = fc.subarray(['*', 'eq', 'fader', 'mute', 'sends', 'routing', 'source', 'preamp'], {
      minLength: 1,
      maxLength: 3,
    });
    const keys = fc.option(
      fc.subarray(['fader/level', 'sends/mix.3/level', 'mute/on', 'eq/1/gain'], { minLength: 1 }),
      { nil: undefined, freq: 3 },
    );
    const rule = fc.record({ strips, sections, settings: keys }, { requiredKeys: ['strips', 'sections'] });
    const scopes = fc
      .array(fc.tuple(rule, fc.boolean()), { maxLength: 4 })
      .map((rules): Scope => [...ALL_EXCEPT_GLOBALS, ...rules.map(([r, include]) => ({ ...r, include }))]);
    const safes = fc.array(rule, { maxLength: 2 }) as fc.Arbitrary<Safes>;
    let changed = 0;
    const runs = times(6, 100);
    await fc.assert(
      fc.asyncProperty(settings, settings, scopes, safes, async (scene, later, scope, safe) => {
        rig.front.hands(scene);
        const { id } = (await rig.capture(`Any ${Math.random()}`)).body;
        rig.front.hands(later);
        await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: safe });
        const before = held();
        const restore = await rig.ended((await rig.beginNow(sceneRecall(rig.desk.id, id, scope))).id);
        expect(restore.status).toBe('confirmed');
        changed += restore.changes;
        const stored = flat(await rig.stateOf(id));
        const compiled = compileScope(quay, scope, safe);
        const now = held();
        const wrong = Object.keys(before).filter((address) => {
          const parts = readAddress(address);
          if (!parts || !stripFamily(quay, parts.strip)) return true;
          const wanted =
            decisionFor(compiled, parts.strip, parts.key) === 'comes back' ? stored[address] : before[address];
          return JSON.stringify(now[address]) !== JSON.stringify(wanted);
        });
        expect(wrong.map((address) => [address, sectionOf(address)])).toEqual([]);
        await rig.ended(
          (await rig.beginNow(sceneRecall(rig.desk.id, restore.wayBack!.sceneId, restore.wayBack!.scope))).id,
        );
        expect(differing(before, held())).toEqual([]);
      }),
      { numRuns: runs, endOnFailure: true },
    );
    await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [] });
    faultRow(
      'any state, scope and safes',
      `${runs} restores, ${changed} settings`,
      'each exactly the chosen cells; each way back exact on the whole desk',
    );
  });
});

describe('MariaDB is stopped', () => {
  const pid = Number(process.env['OLD_ECHO_CRASHING_DB_PID']);
  const stop = () => process.kill(pid, 'SIGSTOP');
  const wake = () => process.kill(pid, 'SIGCONT');
  let rig: Rig;
  beforeAll(async () => {
    rig = await Rig.open({
      OLD_ECHO_DB_PORT: process.env['OLD_ECHO_CRASHING_DB_PORT'],
      OLD_ECHO_DB_PASSWORD: process.env['OLD_ECHO_CRASHING_DB_PASSWORD'],
      OLD_ECHO_RESTORE_LEASE: '4',
    });
    await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [], mode: 'studio' });
  });
  afterAll(async () => {
    wake();
    await rig.close();
  });
  const held = () => rig.front.desk.settings();
  async function ready(name: string): Promise<{ recall: Recall; before: SettingsByAddress }> {
    const scene = (await rig.capture(name)).body;
    rig.front.hands(moved(held(), 60));
    await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 60);
    return { recall: sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS), before: held() };
  }
  const atLevels = async (recall: Recall, fade: number): Promise<RestoreView> => {
    const page = await rig.page();
    const view = await rig.beginNow(recall, { fade });
    await until(() => page.told.some((m) => m.type === 'restore' && m.restore.progress?.stage === 'level'));
    page.close();
    return view;
  };

  test('before a restore: nothing is sent', async () => {
    const { recall, before } = await ready('Database gone first');
    const { fingerprint, cautions } = await rig.plan(recall);
    const answers = cautions.map(({ points }) => ({ way: 'checked', points }));
    stop();
    const asked = rig.post<RestoreView>(`/desks/${rig.desk.id}/restores`, { recall, fingerprint, answers });
    await pause(2500);
    expect(differing(before, held())).toEqual([]);
    wake();
    const answer = await asked;
    expect([202, 500]).toContain(answer.status);
    if (answer.status === 202) await rig.ended(answer.body.id);
    faultRow('MariaDB stopped before a restore', '2.5 s', '0 settings sent while it was stopped');
  });

  test('for a moment in the middle: it goes on with what is in the journal, and ends', async () => {
    const { recall, before } = await ready('Database gone for a moment');
    const { id } = await atLevels(recall, 1.2);
    const plan = (await rig.get<Journal>(`/restores/${id}/journal`)).body;
    stop();
    await pause(700);
    expectJournaled(plan, before, held());
    wake();
    expect((await rig.ended(id)).status).toBe('confirmed');
    expectAt('finish', plan, before, held());
    faultRow('MariaDB stopped for 0.7 s in the middle', '60 settings', 'all confirmed, 0 outside the journal');
  });

  test('for longer than the desk may be held: sending stops, and the journal leads to both ends', async () => {
    const { recall, before } = await ready('Database gone for good');
    const { id } = await atLevels(recall, 8);
    const plan = (await rig.get<Journal>(`/restores/${id}/journal`)).body;
    stop();
    await pause(5000);
    const still = held();
    await pause(1000);
    expect(differing(still, held())).toEqual([]);
    expectJournaled(plan, before, held());
    wake();
    expect(['incomplete', 'interrupted']).toContain((await rig.ended(id)).status);
    await pause(500);
    expect((await rig.ended((await rig.beginNow(resumeRecall(rig.desk.id, id, 'roll back'))).id)).status).toBe(
      'confirmed',
    );
    expectAt('roll back', plan, before, held());
    faultRow(
      'MariaDB stopped for longer than the lease',
      '6 s of a lease of 4 s',
      'sending stopped, 0 outside the journal, rolled back exactly',
    );
  });
});
