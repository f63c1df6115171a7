import { setTimeout as pause } from 'node:timers/promises';

import type { ConversionView } from '@old-echo/core/contracts/conversion';
import type { ImportProgress } from '@old-echo/core/contracts/file-transfer';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { sceneRecall } from '@old-echo/core/contracts/restore';
import type { StorageCheck } from '@old-echo/core/contracts/routes/scene-routes';
import type { ScenePage } from '@old-echo/core/contracts/scene';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { faultRow } from '@old-echo/testing/fault-rows';
import { times } from '@old-echo/testing/runs';

import { connect } from '../../src/database/connect';
import { newId } from '../../src/database/new-id';
import { readConfig } from '../../src/http/config';
import { claimJob } from '../../src/jobs/job-store';
import { beginProduction, dropMaking } from '../../src/scenes/making-production';
import { addVersion } from '../../src/scenes/version-store';
import { download, leaves, upload } from '../files/file-steps';
import { Rig, until } from '../server-rig';

jest.setTimeout(1_200_000);

let rig: Rig;
let small = '';
beforeAll(async () => {
  rig = await Rig.open({}, { ownProcess: true });
  small = (await rig.get<{ id: string; name: string }[]>('/desks')).body.find(({ name }) => name === 'Skiff 16')!.id;
});
afterAll(() => rig.close());

/** Everything that a job could have left behind. */
async function everything(): Promise<{ productions: number; scenes: number; orphans: number; incomplete: number }> {
  const admin = rig.admin();
  try {
    await admin.raw('USE ??', [rig.database]);
    const [[productions], [scenes]] = await Promise.all([
      admin('productions').count<{ n: number }[]>({ n: '*' }),
      admin('scenes').count<{ n: number }[]>({ n: '*' }),
    ]);
    const { body } = await rig.get<StorageCheck>('/storage-check');
    const { orphans, incomplete } = body;
    return { productions: productions!.n, scenes: scenes!.n, orphans, incomplete: incomplete.length };
  } finally {
    await admin.destroy();
  }
}

const shown = async () => (await rig.get<ProductionView[]>('/productions')).body.length;

/** What a job is and how it says what became of it. */
interface Looked {
  readonly status?: string;
  readonly why?: string;
}

/** Kills the server at `kills` moments of a job within `within` ms, and looks at what came of each. */
async function killed(
  what: string,
  kills: number,
  within: number,
  size: number,
  begin: () => Promise<() => Promise<Looked>>,
): Promise<readonly [looked: Looked, whole: boolean][]> {
  const before = await everything();
  const looks: [() => Promise<Looked>, boolean][] = [];
  for (let i = 0; i < kills; i++) {
    const seen = await shown();
    const look = await begin();
    await pause((i * within) / kills);
    await rig.running.kill?.();
    await rig.start();
    looks.push([look, (await shown()) === seen + 1]);
  }
  const whole = looks.filter(([, one]) => one).length;
  // What was begun is not shown, and goes when it is sure that nobody is at it.
  const after = { ...before, productions: before.productions + whole, scenes: before.scenes + whole * size };
  await until(async () => JSON.stringify(await everything()) === JSON.stringify(after), 90_000);
  faultRow(
    `the server killed (SIGKILL) in ${what}`,
    `${kills} kills`,
    `${kills - whole} left nothing, ${whole} were whole; started again, each said which`,
  );
  const looked: [Looked, boolean][] = [];
  // Of files that were opened, the last ten are kept.
  for (const [look, one] of looks.slice(-10)) {
    let said: Looked = {};
    await until(async () => (said = await look()).status !== 'running');
    looked.push([said, one]);
  }
  return looked;
}

const runs = times(4, 60);

test('a carry-over that the server was killed in is there whole or not at all, and says which', async () => {
  const looked = await killed('a carry-over', runs, 900, 8, async () => {
    const request = { productionId: rig.production.id, deskId: small };
    const { id } = (await rig.post<ConversionView>('/conversions', request)).body;
    return async () => (await rig.get<ConversionView>(`/conversions/${id}`)).body;
  });
  for (const [{ status, why }, whole] of looked)
    expect([status, why]).toEqual(
      whole ? ['done', ''] : ['failed', 'Old Echo stopped during it. Nothing was saved; try again.'],
    );
});

test('an import that the server was killed in is there whole or not at all, and says which', async () => {
  const file = await download(rig, `/exports/productions/${rig.production.id}?autosaves=true`);
  const { scenes } = (await rig.get<ScenePage>(`/productions/${rig.production.id}/scenes?limit=200`)).body;
  const looked = await killed('an import', runs, 1500, scenes.length, async () => {
    const { id, branches } = (await upload(rig, file)).body;
    await rig.post(`/imports/${id}/start`, { include: leaves(branches), replace: false });
    return async () => (await rig.get<ImportProgress>(`/imports/${id}/progress`)).body.job ?? {};
  });
  for (const [{ status, why }, whole] of looked)
    expect([status, whole || why]).toEqual(
      whole ? ['done', true] : ['failed', 'Old Echo stopped during the import. Nothing was imported; try again.'],
    );
});

test('while a song or show is made on a desk, captures and restores there do not wait for it', async () => {
  const db = await connect(
    readConfig({ ...process.env, OLD_ECHO_DB_NAME: rig.database, OLD_ECHO_FILES_DIR: 'nothing is kept there' }),
  );
  const [job, production] = [newId(), newId()];
  try {
    await claimJob(db, job, 1);
    const before = await everything();
    const tx = await db.transaction();
    await beginProduction(db, job, { id: production, deskId: rig.desk.id, name: 'Made', kind: 'song', note: '' });
    await addVersion(tx, { id: newId(), production_id: production, name: 'Main mix' });
    expect(await shown()).toBe(before.productions);
    const scene = await rig.capture('Meanwhile');
    expect(scene.status).toBe(201);
    rig.front.hands({ 'in.1/fader/level': -33 });
    expect((await rig.restored(sceneRecall(rig.desk.id, scene.body.id, ALL_EXCEPT_GLOBALS))).status).toBe('confirmed');
    await tx.rollback();
    await dropMaking(db, job);
    expect((await everything()).productions).toBe(before.productions);
  } finally {
    await db.destroy();
  }
});
