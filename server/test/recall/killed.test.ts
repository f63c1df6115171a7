import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { type RestoreView, resumeRecall, sceneRecall } from '@old-echo/core/contracts/restore';
import type { SettingsByAddress } from '@old-echo/core/desk/state';
import type { Journal } from '@old-echo/core/recall/recall-target';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { faultRow } from '@old-echo/testing/fault-rows';
import { FULL, times } from '@old-echo/testing/runs';

import { OwnMariaDB } from '../own-mariadb';
import { differing, Rig, until } from '../server-rig';
import { chance, expectAt, expectJournaled, lastStage, moved, wasIn } from './fault-steps';

jest.setTimeout(FULL ? 3_600_000 : 300_000);

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Where a restore is killed: as it is asked for, and in each of its stages. */
const STAGES = ['asked', 'guard', 'patch', 'process', 'level', 'release', 'verify'] as const;

/** Counts of something by name, as a sentence has them. */
class Counts {
  readonly #counts = new Map<string, number>();

  add(name: string): void {
    this.#counts.set(name, (this.#counts.get(name) ?? 0) + 1);
  }

  get size(): number {
    return this.#counts.size;
  }

  toString(): string {
    return [...this.#counts].map(([name, n]) => `${n} ${name}`).join(', ');
  }
}

/** A restore of 60 settings, begun, and waited for until it is somewhere within a stage. */
async function begunUntil(rig: Rig, name: string, stage: (typeof STAGES)[number], seed: number) {
  const held = () => rig.front.desk.settings();
  // One strip to open and one to close, whatever came before: so every stage has something to do.
  await rig.hands({ 'in.2/mute/on': false, 'in.16/mute/on': true });
  const scene = (await rig.capture(name)).body;
  rig.front.hands(moved(held(), 60));
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 60);
  const last = (await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body.lastRestoreId;
  const before = held();
  rig.front.misbehave({ delay: stage === 'verify' ? 60 : 12, seed });
  const page = await rig.page();
  const recall = sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS);
  // Where it ends before the restore began, the answer never comes.
  if (stage === 'asked') void rig.begin(recall, { fade: 0.2 }).catch(() => undefined);
  else {
    const { id } = await rig.beginNow(recall, { fade: 0.2 });
    await until(async () => {
      const { status } = (await rig.get<RestoreView>(`/restores/${id}`)).body;
      // A machine that is held up for longer than the lease has stopped it already, and both ends are there all the same.
      if (wasIn(page.told, stage) || status === 'interrupted') return true;
      if (status !== 'running') throw new Error(`${status} without ${stage}`);
      return false;
    });
  }
  await pause(60 * chance());
  return { last, before, at: lastStage(page.told), leave: page.close };
}

/** Looks at what became of a restore once everything is there again, and leads it to an end. */
async function ledToAnEnd(
  rig: Rig,
  { last, before }: { readonly last: string | null; readonly before: SettingsByAddress },
  how: 'finish' | 'roll back',
): Promise<string> {
  const held = () => rig.front.desk.settings();
  const { lastRestoreId } = (await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body;
  if (lastRestoreId === last || lastRestoreId === null) {
    // Nothing is sent before the journal is written.
    expect(differing(before, held())).toEqual([]);
    return 'not begun';
  }
  let view!: RestoreView;
  await until(
    async () => (view = (await rig.get<RestoreView>(`/restores/${lastRestoreId}`)).body).status !== 'running',
  );
  const plan = (await rig.get<Journal>(`/restores/${lastRestoreId}/journal`)).body;
  expectJournaled(plan, before, held());
  if (view.status === 'confirmed') {
    expectAt('finish', plan, before, held());
    return 'ended';
  }
  expect(['interrupted', 'incomplete']).toContain(view.status);
  expect((await rig.ended((await rig.beginNow(resumeRecall(rig.desk.id, lastRestoreId, how))).id)).status).toBe(
    'confirmed',
  );
  expectAt(how, plan, before, held());
  return how;
}

async function killedInEveryStage(rig: Rig, what: string, kills: number, kill: () => Promise<void>): Promise<number> {
  const [stages, ends] = [new Counts(), new Counts()];
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [], mode: 'studio' });
  for (let i = 0; i < kills; i++) {
    const stage = STAGES[i % STAGES.length] ?? 'asked';
    const begun = await begunUntil(rig, `Before ${what} ${i}`, stage, i + 1);
    stages.add(begun.at);
    await kill();
    begun.leave();
    rig.front.misbehave({});
    ends.add(await ledToAnEnd(rig, begun, i % 2 === 0 ? 'finish' : 'roll back'));
  }
  faultRow(
    `${what} killed (SIGKILL) in every stage of a restore`,
    `${kills} kills: ${stages.toString()}`,
    `${ends.toString()}; the whole desk as promised each time`,
  );
  return stages.size;
}

test('the server is killed in every stage of a restore: the next start offers both ends, and both are exact', async () => {
  const rig = await Rig.open({ OLD_ECHO_RESTORE_LEASE: '3' }, { ownProcess: true });
  try {
    const stages = await killedInEveryStage(rig, 'the server', times(7, 105), async () => {
      await rig.running.kill?.();
      await rig.start();
    });
    expect(stages).toBeGreaterThan(3);
  } finally {
    await rig.close();
  }
});

describe('the server dies at an exact point of a restore', () => {
  const points = join(mkdtempSync(join(tmpdir(), 'old-echo-points-')), 'points');
  /** A restore of a few settings of every kind, by a server that dies where it is told. */
  async function dyingAt(
    rig: Rig,
    where: string,
  ): Promise<{ ended: string; reached: Readonly<Record<string, number>> }> {
    const held = () => rig.front.desk.settings();
    await rig.running.close();
    await rig.start({
      NODE_OPTIONS: `--require ${require.resolve('../die-at.cjs')}`,
      OLD_ECHO_DIE_AT: where,
      OLD_ECHO_POINTS: points,
    });
    const scene = (await rig.capture(`Dying at ${where}`)).body;
    rig.front.hands(moved(held(), 8));
    await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === 8);
    const last = (await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body.lastRestoreId;
    const before = held();
    process.kill(rig.running.pid!, 'SIGUSR2');
    const begun = await rig
      .begin(sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS), { fade: 0 })
      .catch(() => undefined);
    if (begun) await rig.ended(begun.body.id).catch(() => undefined);
    const reached = JSON.parse(readFileSync(points, 'utf8')) as Record<string, number>;
    await rig.running.kill?.();
    await rig.start();
    return { ended: await ledToAnEnd(rig, { last, before }, chance() < 0.5 ? 'finish' : 'roll back'), reached };
  }

  test.each([
    ['write', 'writes to the database'],
    ['send', 'packets to the desk'],
  ])('at each %s: the next start leads to both ends', async (kind, what) => {
    const rig = await Rig.open({ OLD_ECHO_RESTORE_LEASE: '3' }, { ownProcess: true });
    try {
      await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [], mode: 'studio' });
      const all = (await dyingAt(rig, 'nowhere 0')).reached[kind]!;
      expect(all).toBeGreaterThan(5);
      const [ends, hit] = [new Counts(), new Set<number>()];
      for (let at = 1; at <= all; at += times(Math.ceil(all / 4), 1)) {
        const { ended, reached } = await dyingAt(rig, `${kind} ${at}`);
        ends.add(ended);
        if (reached[kind] === at) hit.add(at);
      }
      expect(hit.size).toBeGreaterThan(2);
      faultRow(
        `the server killed (SIGKILL) at ${what}, one after the other`,
        `${hit.size} of ${all} points`,
        `${ends.toString()}; the whole desk as promised each time`,
      );
    } finally {
      await rig.close();
    }
  });
});

test('MariaDB is killed in every stage of a restore and comes back: nothing outside the journal, and both ends are exact', async () => {
  const database = await OwnMariaDB.open();
  try {
    const rig = await Rig.open({ ...database.env, OLD_ECHO_RESTORE_LEASE: '3' });
    try {
      const stages = await killedInEveryStage(rig, 'MariaDB', times(7, 105), async () => {
        await database.kill();
        await pause(1500 * chance());
        await database.start();
      });
      expect(stages).toBeGreaterThan(3);
    } finally {
      await rig.close();
    }
  } finally {
    await database.close();
  }
});
