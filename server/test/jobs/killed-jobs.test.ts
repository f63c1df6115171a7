import { setTimeout as pause } from 'node:timers/promises';

import type { ConversionView } from '@old-echo/core/contracts/conversion';
import type { ImportProgress } from '@old-echo/core/contracts/file-transfer';
import { times } from '@old-echo/testing/runs';

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
async function everything() {
  const admin = rig.admin();
  try {
    await admin.raw('USE ??', [rig.database]);
    const [productions, versions, scenes, strips, states] = await Promise.all(
      ['productions', 'versions', 'scenes', 'scene_strips', 'strip_states'].map(async (table) => {
        const [row] = (await admin(table).count({ n: '*' })) as [{ n: number }];
        return row.n;
      }),
    );
    return { productions, versions, scenes, strips, states };
  } finally {
    await admin.destroy();
  }
}

/** Where each job ended: before anything of it was there, or with all of it. */
const ends = { nothing: 0, whole: 0 };

/** Begins a job, kills the server `after` ms later, starts it again, and says what became of it. */
async function killed(after: number, begin: () => Promise<() => Promise<{ status?: string; why?: string }>>) {
  const before = await everything();
  const look = await begin();
  await pause(after);
  await rig.running.kill?.();
  await rig.start();
  const now = await everything();
  const whole = now.productions === before.productions! + 1;
  ends[whole ? 'whole' : 'nothing']++;
  if (!whole) expect(now).toEqual(before);
  return { look, whole, added: now.scenes! - before.scenes! };
}

const runs = times(4, 60);

test('a carry-over that the server was killed in is there whole or not at all, and says which', async () => {
  const looks: (() => Promise<void>)[] = [];
  for (let i = 0; i < runs; i++) {
    const { look, whole, added } = await killed((i * 900) / runs, async () => {
      const request = { productionId: rig.production.id, deskId: small };
      const { id } = (await rig.post<ConversionView>('/conversions', request)).body;
      return async () => (await rig.get<ConversionView>(`/conversions/${id}`)).body;
    });
    expect(added).toBe(whole ? 8 : 0);
    looks.push(async () => {
      let said!: { status?: string; why?: string };
      await until(async () => (said = await look()).status !== 'running', 60_000);
      expect([said.status, said.why]).toEqual(
        whole ? ['done', ''] : ['failed', 'Old Echo stopped during it. Nothing was saved; try again.'],
      );
    });
  }
  for (const look of looks) await look();
});

test('an import that the server was killed in is there whole or not at all, and says which', async () => {
  const file = await download(rig, `/exports/productions/${rig.production.id}?autosaves=true`);
  const looks: (() => Promise<void>)[] = [];
  for (let i = 0; i < runs; i++) {
    const { look, whole } = await killed((i * 1500) / runs, async () => {
      const { id, branches } = (await upload(rig, file)).body;
      await rig.post(`/imports/${id}/start`, { include: leaves(branches), replace: false });
      return async () => (await rig.get<ImportProgress>(`/imports/${id}/progress`)).body.job ?? {};
    });
    looks.push(async () => {
      let said!: { status?: string; why?: string };
      await until(async () => (said = await look()).status !== 'running', 60_000);
      expect([said.status, whole || said.why]).toEqual(
        whole ? ['done', true] : ['failed', 'Old Echo stopped during the import. Nothing was imported; try again.'],
      );
    });
  }
  for (const look of looks) await look();
  console.log(`killed in the middle of ${2 * runs} jobs: ${ends.nothing} left nothing, ${ends.whole} were whole`);
});
