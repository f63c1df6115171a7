import { pino } from 'pino';

import { Fault } from '@old-echo/core/fault/fault';

import { connect, type Database } from '../../src/database/connect';
import { importProgress } from '../../src/files/import-store';
import { BackgroundTasks } from '../../src/jobs/background-tasks';
import { claimJob, jobStatuses, jobWithResult, reportProgress, requestCancel } from '../../src/jobs/job-store';
import { runJob } from '../../src/jobs/run-job';
import { conversion } from '../../src/library/conversion-store';
import { rippleView } from '../../src/recall/ripple-store';
import { renderView } from '../../src/sound/render-store';
import { ownDatabase } from '../own-database';
import { JUMPS, setWallClock } from '../wall-clock';

jest.setTimeout(60_000);

const STOPPED = 'It was stopped.';
const address = ownDatabase('jobs');
let db: Database;
let tasks: BackgroundTasks;
const log = pino({ enabled: false });

beforeAll(async () => {
  db = await connect(address);
  tasks = new BackgroundTasks(log);
});
afterEach(() => jest.useRealTimers());
afterAll(async () => {
  await tasks.whenIdle();
  await db.raw('DROP DATABASE ??', [address.database]);
  await db.destroy();
});

const jobOf = async (id: string) => (await jobWithResult(db, id, STOPPED, () => Promise.resolve()))[0];
const run = async (id: string, work: Parameters<typeof runJob>[3]) => {
  runJob({ db, tasks, log }, id, 'Nobody foresaw this.', work);
  await tasks.whenIdle();
  return jobOf(id);
};

describe('a job', () => {
  test('that there never was is none', async () => {
    expect(await jobOf('nobody')).toBeUndefined();
  });

  test('is claimed by one of two, and again once it has ended', async () => {
    const both = await Promise.all([claimJob(db, 'once', 3), claimJob(db, 'once', 3)]);
    expect(both.sort()).toEqual([false, true]);
    expect(await run('once', () => Promise.resolve())).toMatchObject({ status: 'done', why: '' });
    expect(await claimJob(db, 'once', 3, false)).toBe(false);
    expect(await claimJob(db, 'once', 3)).toBe(true);
  });

  test('says how far it is, and ends with what its work has to add', async () => {
    await claimJob(db, 'far', 10);
    const seen: unknown[] = [];
    const end = await run('far', async (report) => {
      await report(4, 10);
      seen.push(await jobOf('far'));
      return 'Two were here already.';
    });
    expect(seen).toEqual([{ status: 'running', done: 4, total: 10, why: '' }]);
    expect(end).toEqual({ status: 'done', done: 10, total: 10, why: 'Two were here already.' });
  });

  test('that is asked to stop stops at its next step', async () => {
    await claimJob(db, 'stops', 10);
    const steps: number[] = [];
    const end = await run('stops', async (report) => {
      for (let step = 0; step < 10; step++) {
        if (step === 3) await requestCancel(db, 'stops');
        steps.push(step);
        await report(step, 10);
      }
    });
    expect([end?.status, steps]).toEqual(['cancelled', [0, 1, 2, 3]]);
  });

  test('cannot be asked to stop once it has ended', async () => {
    await requestCancel(db, 'stops');
    await claimJob(db, 'stops', 1);
    expect(await reportProgress(db, 'stops', 0, 1)).toBe(false);
  });

  test('that fails says why where that was foreseen, and something for people where it was not', async () => {
    await claimJob(db, 'foreseen', 1);
    const foreseen = await run('foreseen', () => Promise.reject(new Fault('conflict', 'It is full.', 'Make room.')));
    expect(foreseen).toMatchObject({ status: 'failed', why: 'It is full. Make room.' });
    await claimJob(db, 'unforeseen', 1);
    const unforeseen = await run('unforeseen', () => Promise.reject(new TypeError('x is not a function')));
    expect(unforeseen).toMatchObject({ status: 'failed', why: 'Nobody foresaw this.' });
  });

  test('whose server fell silent has failed for whoever looks, and can be taken over', async () => {
    await claimJob(db, 'silent', 5);
    await db('jobs')
      .where({ id: 'silent' })
      .update({ heartbeat_at: new Date(Date.now() - 60_000) });
    expect(await jobOf('silent')).toMatchObject({ status: 'failed', why: STOPPED });
    expect((await jobStatuses(db, ['silent', 'nobody'])).get('silent')).toBe('failed');
    expect(await claimJob(db, 'silent', 5, false)).toBe(true);
  });

  test.each(JUMPS)(
    'that is at work is not called stopped, nor taken over, when the clock is set %s',
    async (_, jump) => {
      const id = `at-work-${jump}`;
      expect(await claimJob(db, id, 3)).toBe(true);
      expect(await jobOf(id)).toMatchObject({ status: 'running' });
      setWallClock(jump);
      expect(await jobOf(id)).toMatchObject({ status: 'running' });
      expect((await jobStatuses(db, [id])).get(id)).toBe('running');
      expect(await claimJob(db, id, 3)).toBe(false);
      // One that shows no sign of life once those at work have had the time for it was left, and does not stay so for that hour.
      const later = jest.spyOn(performance, 'now').mockReturnValue(performance.now() + 30_000);
      jest.setSystemTime(Date.now() + 30_000);
      expect(await jobOf(id)).toMatchObject({ status: 'failed', why: STOPPED });
      later.mockRestore();
    },
  );
});

describe('what a job made is read after the job, so that one that is done has it', () => {
  test.each([
    ['an import', (id: string) => importProgress(db, id)],
    ['a conversion', (id: string) => conversion(db, id)],
    ['a mix', (id: string) => renderView(db, id)],
    ['a change of many scenes', (id: string) => rippleView(db, id)],
  ])('%s', async (_, view) => {
    const asked: string[] = [];
    const note = ({ sql }: { sql: string }) => asked.push(/from `(\w+)`/.exec(sql)?.[1] ?? sql);
    db.on('query', note);
    await view('nobody').catch(() => undefined);
    db.removeListener('query', note);
    expect(asked[0]).toBe('jobs');
    expect(asked.length).toBeGreaterThan(1);
  });
});
