import type { DeskView } from '@old-echo/core/contracts/desk';
import type { Problem } from '@old-echo/core/contracts/problem';

import { Rig } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const edit = (change: object) => rig.call<DeskView & Problem>('PATCH', `/desks/${rig.desk.id}`, change);
const desk = async () => (await rig.get<DeskView>(`/desks/${rig.desk.id}`)).body;
const inDatabase = async (statement: string): Promise<unknown> => {
  const admin = rig.admin();
  const [rows] = (await admin.raw(statement.replaceAll('@DB', rig.database))) as [unknown];
  await admin.destroy();
  return rows;
};
beforeEach(async () => {
  await rig.post(`/desks/${rig.desk.id}/forget-pin`, {});
  await edit({ showLock: false });
  await inDatabase('DELETE FROM @DB.attempts');
});

describe('the PIN of the show lock', () => {
  test('is put on with it, and lifts it; nothing else does, also after a restart', async () => {
    expect((await edit({ showLock: true, pin: '2718' })).body).toMatchObject({ showLock: true, hasPin: true });
    await rig.running.close();
    await rig.start();
    for (const wrong of [{}, { pin: '2719' }, { pin: '02718' }]) {
      const answer = await edit({ showLock: false, ...wrong });
      expect([answer.status, answer.body.type]).toEqual([403, 'urn:old-echo:wrong-secret']);
      expect(answer.body.where).toBe('pin');
    }
    expect((await desk()).showLock).toBe(true);
    // By putting it on once more neither.
    expect((await edit({ showLock: true, pin: '1111' })).status).toBe(409);
    expect((await edit({ showLock: true })).body.hasPin).toBe(true);
    expect((await edit({ showLock: false, pin: '2718' })).body).toMatchObject({ showLock: false, hasPin: false });
    // The next lock has none of its own accord.
    await edit({ showLock: true });
    expect((await edit({ showLock: false })).status).toBe(200);
  });

  test('is tried five times in a minute, also over a restart', async () => {
    await edit({ showLock: true, pin: '2718' });
    for (let i = 0; i < 5; i++) expect((await edit({ showLock: false, pin: `000${i}` })).status).toBe(403);
    await rig.running.close();
    await rig.start();
    const late = await edit({ showLock: false, pin: '2718' });
    expect([late.status, late.body.type]).toEqual([503, 'urn:old-echo:try-later']);
    expect((await desk()).showLock).toBe(true);
  });

  test('stands in the database as a hash by Argon2id, and in no answer', async () => {
    const answer = await edit({ showLock: true, pin: '31415926' });
    expect(JSON.stringify(answer.body)).not.toMatch(/31415926|argon2/);
    const [row] = (await inDatabase('SELECT pin_hash FROM @DB.desks WHERE show_lock = 1')) as { pin_hash: string }[];
    expect(row?.pin_hash).toMatch(/^\$argon2id\$/);
  });

  test.each(['123', '123456789', '12a4', ' 1234', '', '١٢٣٤'])('has 4 to 8 digits: not “%s”', async (pin) => {
    expect((await edit({ showLock: true, pin })).status).toBe(422);
    expect((await desk()).showLock).toBe(false);
  });

  test('that is forgotten is lifted without it', async () => {
    await edit({ showLock: true, pin: '2718' });
    expect((await rig.post<DeskView>(`/desks/${rig.desk.id}/forget-pin`, {})).body).toMatchObject({
      showLock: true,
      hasPin: false,
    });
    expect((await edit({ showLock: false })).status).toBe(200);
  });
});
