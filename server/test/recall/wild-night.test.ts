import { readdirSync, readFileSync } from 'node:fs';

import fc from 'fast-check';

import type { ConversionView } from '@old-echo/core/contracts/conversion';
import type { DeskView } from '@old-echo/core/contracts/desk';
import { type RestoreView, resumeRecall, sceneRecall } from '@old-echo/core/contracts/restore';
import type { StorageCheck } from '@old-echo/core/contracts/routes/scene-routes';
import type { SettingsByAddress } from '@old-echo/core/desk/state';
import type { Journal } from '@old-echo/core/recall/recall-target';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { faultRow } from '@old-echo/testing/fault-rows';
import { FULL, times } from '@old-echo/testing/runs';

import { bring, download, upload } from '../files/file-steps';
import { OwnMariaDB } from '../own-mariadb';
import { differing, Rig } from '../server-rig';
import { chance, moved } from './fault-steps';

jest.setTimeout(FULL ? 3_600_000 : 300_000);

/** How long the night is, in ms. */
const NIGHT_MS = times(8000, 30 * 60_000);
/** Faults come this far apart, in ms. */
const APART_MS = times(1200, 8000);

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

let database: OwnMariaDB;
let rig: Rig;
let small: string;
beforeAll(async () => {
  database = await OwnMariaDB.open();
  rig = await Rig.open({ ...database.env, OLD_ECHO_RESTORE_LEASE: '3' }, { ownProcess: true });
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [], mode: 'studio' });
  small = (await rig.get<DeskView[]>('/desks')).body.find(({ name }) => name === 'Skiff 16')!.id;
});
afterAll(async () => {
  await rig.close();
  await database.close();
});

/** What the engineer of this night works on; strangers keep to the other inputs. */
const isOurs = (address: string): boolean => /^in\.([1-9]|[1-3]\d|40)\//.test(address);
const ours = (): SettingsByAddress =>
  Object.fromEntries(Object.entries(rig.front.desk.settings()).filter(([address]) => isOurs(address)));

/** Does something that can be asked again, until nothing gets in its way. */
async function persist<T>(work: () => Promise<T>): Promise<T> {
  for (const start = performance.now(); ;)
    try {
      return await work();
    } catch (error) {
      if (performance.now() - start > 180_000) throw error;
      await pause(200);
    }
}

const lastRestore = () =>
  persist(async () => (await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body.lastRestoreId ?? null);
const whenEnded = (id: string) =>
  persist(async () => {
    const { body } = await rig.get<RestoreView>(`/restores/${id}`);
    if (body.status === 'running') throw new Error('still at work');
    return body;
  });

/** Leads a restore that something got in the way of to an end, however often that happens again. */
async function led(id: string, how: 'finish' | 'roll back'): Promise<void> {
  for (let [last, next] = [id, how]; ; next = 'finish') {
    const { status } = await whenEnded(last);
    if (status === 'confirmed') return;
    await persist(async () => {
      // What was asked for a moment before a fault may have begun all the same.
      if ((await lastRestore()) === last) await rig.beginNow(resumeRecall(rig.desk.id, last, next));
    });
    last = (await lastRestore()) ?? last;
  }
}

/** Where an answer was lost, what was asked for may be there all the same. */
let captures = 0;
const done = { restores: 0, 'led to an end': 0, 'not begun': 0 };

/** One scene, other settings, and back: whatever happens meanwhile, the desk is at one of both ends after it. */
async function restoreOnce(run: number): Promise<void> {
  // Somebody else's restore of before is at its end here.
  const scene = await persist(async () => {
    const { status, body } = await rig.capture(`Night ${run}, ${++captures}`);
    if (status !== 201) throw new Error(JSON.stringify(body));
    return body;
  });
  rig.front.hands(moved(rig.front.desk.settings(), 40));
  const at = ours();
  await persist(async () => {
    const seen = (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.filter(({ address }) => isOurs(address));
    if (seen.length !== 40) throw new Error('not all of it was seen yet');
  });
  const last = await lastRestore();
  await rig
    .beginNow(sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS), { fade: chance() < 0.5 ? 0 : 0.5 })
    // Where the answer was lost, it may be on its way all the same.
    .catch(() => pause(6000));
  const id = await lastRestore();
  done.restores++;
  if (id === null || id === last) {
    done['not begun']++;
    expect(differing(at, ours())).toEqual([]);
    return;
  }
  const { status } = await whenEnded(id);
  const plan = await persist(async () => (await rig.get<Journal>(`/restores/${id}/journal`)).body);
  const how = run % 2 === 0 ? 'finish' : 'roll back';
  if (status !== 'confirmed') {
    done['led to an end']++;
    await led(id, how);
  }
  const wanted = { ...at };
  if (status === 'confirmed' || how === 'finish')
    for (const { address, to } of plan.changes) if (isOurs(address)) wanted[address] = to;
  expect(differing(wanted, ours())).toEqual([]);
}

let over = false;
/** Something that is done over and over again, with pauses of at most so many ms, whatever comes of it. */
const duringNight = (every: number, work: () => Promise<unknown>) => async (): Promise<void> => {
  while (!over) {
    await work().catch(() => undefined);
    await pause(every * chance());
  }
};

/** Others on the same server: hands, pages, nonsense, files, work for another desk. */
const others = [
  duringNight(40, async () => {
    rig.front.hands({ [`in.${41 + Math.floor(8 * chance())}/fader/level`]: -30 - Math.round(200 * chance()) / 10 });
    await Promise.resolve();
  }),
  duringNight(700, async () => (await rig.page()).close()),
  duringNight(300, () => rig.post('/combinations', fc.sample(fc.jsonValue(), 1)[0])),
  duringNight(500, () => rig.get(`/productions/${rig.production.id}/scenes?limit=200`)),
  duringNight(2000, () => upload(rig, Buffer.from(JSON.stringify(fc.sample(fc.jsonValue(), 1)[0])))),
  duringNight(20_000, async () =>
    bring(rig, (await upload(rig, await download(rig, `/exports/productions/${rig.production.id}`))).body),
  ),
  duringNight(20_000, () =>
    rig.post<ConversionView>('/conversions', { productionId: rig.production.id, deskId: small }),
  ),
];

/** What the server's process holds, in MB and in open files. */
function held(): { readonly megabytes: number; readonly files: number } {
  const { pid } = rig.running;
  const pages = Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]);
  return { megabytes: (pages * 4096) / 1e6, files: readdirSync(`/proc/${pid}/fd`).length };
}

const faults: Readonly<Record<string, () => Promise<unknown>>> = {
  'bad lines': async () => {
    rig.front.misbehave({ loss: 0.3, reorder: 0.3, delay: 100, seed: Math.round(1e6 * chance()) });
    await pause(3000);
    rig.front.misbehave({});
  },
  'desks frozen': async () => {
    rig.front.freeze(true);
    await pause(2000);
    rig.front.freeze(false);
  },
  'desks off and on': () => rig.powerCut(2000),
  'MariaDB killed': async () => {
    await database.kill();
    await pause(1000 * chance());
    await database.start();
  },
  'servers killed': async () => {
    await rig.running.kill?.();
    await rig.start();
  },
};

test('a night on which everything goes wrong at random: each restore ends where it was promised, nothing is lost, memory and files stay flat', async () => {
  const [happened, peaks] = [new Map<string, number>(), [held()]];
  const night = others.map((other) => other());
  const end = performance.now() + NIGHT_MS;
  const harm = (async () => {
    for (let i = 0; performance.now() < end; i++) {
      await pause(APART_MS * (0.5 + chance()));
      const [name, fault] = Object.entries(faults)[i % Object.keys(faults).length]!;
      // Each server is asked what it holds at the end of its life.
      if (name === 'servers killed') peaks.push(held());
      await fault();
      happened.set(name, (happened.get(name) ?? 0) + 1);
    }
  })();
  for (let run = 0; performance.now() < end; run++) await restoreOnce(run);
  await harm;
  over = true;
  await Promise.all(night);
  await rig.linked();
  peaks.push(held());
  const found = (await rig.get<StorageCheck>('/storage-check')).body;
  expect(found).toMatchObject({ orphans: 0, spoiled: 0, incomplete: [] });
  const megabytes = peaks.map((peak) => Math.round(peak.megabytes));
  const files = peaks.map((peak) => peak.files);
  expect(Math.max(...megabytes)).toBeLessThan(1000);
  expect(Math.max(...files)).toBeLessThan(300);
  faultRow(
    'a night with everything at random',
    `${Math.round(NIGHT_MS / 60_000)} minutes: ${[...happened].map(([name, n]) => `${n} ${name}`).join(', ')}`,
    `${done.restores} restores, ${done['led to an end']} of them led to an end after a fault, ${done['not begun']} not begun; each as promised, ` +
      `${found.scenes} scenes whole; at most ${Math.max(...megabytes)} MB and ${Math.max(...files)} open files`,
  );
});
