import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';

import type { RenderView } from '@old-echo/core/contracts/sound';
import { writeWav } from '@old-echo/core/signal/wav';
import { connect, type Database } from '@old-echo/server/database/connect';
import { soundFiles } from '@old-echo/server/database/file-store';
import { attachStem } from '@old-echo/server/sound/stem-store';
import { WorkerPool } from '@old-echo/server/sound/worker-pool';
import { sine } from '@old-echo/testing/sounds';

import { Rig, until } from '../server-rig';

jest.setTimeout(120_000);

/** So much later the clock of the server stands, in ms. */
let later = 0;
let rig: Rig;
let db: Database;
beforeAll(async () => {
  const now = performance.now.bind(performance);
  jest.spyOn(performance, 'now').mockImplementation(() => now() + later);
  rig = await Rig.open();
  db = await connect({
    database: rig.database,
    databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
    databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
  });
  const strips = Array.from({ length: 16 }, (_, n) => `in.${n + 1}`);
  await rig.hands({ 'main.1/fader/level': 0, 'main.1/mute/on': false });
  await rig.hands(Object.fromEntries(strips.map((strip) => [`${strip}/compressor/on`, true])));
  const body = Buffer.from(writeWav(sine(440, -12, 120), '16', false));
  for (const strip of strips)
    await fetch(`http://127.0.0.1:${rig.running.port}/api/productions/${rig.production.id}/stems/${strip}`, {
      method: 'PUT',
      headers: { 'content-type': 'audio/wav' },
      body,
    });
});
afterAll(async () => {
  await db.destroy();
  await rig.close();
});

const start = async (level: number): Promise<RenderView> => {
  const settings = Object.fromEntries(Array.from({ length: 16 }, (_, n) => [`in.${n + 1}/fader/level`, level]));
  const request = { productionId: rig.production.id, deskId: rig.desk.id, output: 'main.1', settings };
  return (await rig.post<RenderView>('/renders', request)).body;
};
const look = async ({ id }: RenderView) => (await rig.get<RenderView>(`/renders/${id}`)).body;
const ended = async (mix: RenderView) => {
  let view = mix;
  await until(async () => (view = await look(mix)).status !== 'running', 60_000);
  return view.status;
};

test('a mix that nobody asks about is cancelled once another is wanted, and only then; asked for again it is worked out', async () => {
  const alone = await start(-10);
  later += 10_000;
  // Looked up where nobody is asked.
  const job = () => db('jobs').where({ id: alone.id }).first('status');
  await until(async () => (await job())?.status !== 'running', 60_000);
  expect(await job()).toEqual({ status: 'done' });

  const left = await start(-11);
  later += 10_000;
  const wanted = await start(-12);
  expect(await ended(wanted)).toBe('done');
  expect((await look(left)).status).toBe('cancelled');
  expect(await ended(await start(-11))).toBe('done');
});

test('a stem that was broken off once all of it had arrived takes no place, and nothing of it is kept', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'old-echo-'));
  const files = soundFiles(folder);
  const pool = new WorkerPool(undefined, 1);
  const nameOf = async () =>
    (await db('stems').where({ production_id: rig.production.id, strip: 'in.1' }).first())?.name;
  const before = await nameOf();
  const attached = (isAwaited: boolean) =>
    attachStem(
      { db, files, pool },
      {
        ...{ productionId: rig.production.id, strip: 'in.1', name: 'Late.wav', modified: null, gain: 0 },
        isAwaited: () => isAwaited,
      },
      Readable.from([Buffer.from(writeWav(sine(330, -12, 1), '16', false))]),
    );
  await expect(attached(false)).rejects.toThrow('Nobody waits for this file any more.');
  expect([await nameOf(), readdirSync(files.arriving)]).toEqual([before, []]);
  await attached(true);
  expect(await nameOf()).toBe('Late.wav');
  await pool.close();
  rmSync(folder, { recursive: true });
});
