import { existsSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { get, type IncomingMessage } from 'node:http';
import { join } from 'node:path';

import type { RenderView, StemView } from '@old-echo/core/contracts/sound';
import { readWav, writeWav } from '@old-echo/core/signal/wav';
import { parseWavHeader } from '@old-echo/core/signal/wav-header';
import { connect } from '@old-echo/server/database/connect';
import { soundFiles } from '@old-echo/server/database/file-store';
import { pruneRenders } from '@old-echo/server/sound/prune-renders';
import { inFolder, run, sine } from '@old-echo/testing/sounds';

import { Rig, until } from '../server-rig';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
  await rig.hands({ 'main.1/fader/level': 0, 'main.1/mute/on': false, 'in.1/mute/on': false, 'in.1/fader/level': 0 });
});
afterAll(() => rig.close());

const stemsPath = () => `/productions/${rig.production.id}/stems`;
const attach = async (strip: string, bytes: Uint8Array) => {
  const answer = await fetch(`http://127.0.0.1:${rig.running.port}/api${stemsPath()}/${strip}?name=${strip}.wav`, {
    method: 'PUT',
    headers: { 'content-type': 'audio/wav' },
    body: Buffer.from(bytes),
  });
  return (await answer.json()) as StemView[];
};
async function rendered(more: object = {}): Promise<RenderView> {
  const request = { productionId: rig.production.id, deskId: rig.desk.id, output: 'main.1', ...more };
  const { body } = await rig.post<RenderView>('/renders', request);
  let view!: RenderView;
  await until(
    async () => (view = (await rig.get<RenderView>(`/renders/${body.id}`)).body).status !== 'running',
    60_000,
  );
  return view;
}
const bytesOf = async (path: string) =>
  new Uint8Array(await (await fetch(`http://127.0.0.1:${rig.running.port}/api${path}`)).arrayBuffer());
const tone = (level: number, seconds = 1) => writeWav(sine(440, level, seconds), '24', false);

/** The same sound, said to have been recorded so many samples after midnight. */
const recordedAt = (bytes: Uint8Array, reference: number): Uint8Array =>
  inFolder((folder) => {
    const [from, to] = [join(folder, 'from.wav'), join(folder, 'to.wav')];
    writeFileSync(from, bytes);
    const said = ['-write_bext', '1', '-metadata', `time_reference=${reference}`];
    run('ffmpeg', '-hide_banner', '-loglevel', 'error', '-i', from, '-c:a', 'pcm_s24le', ...said, to);
    return new Uint8Array(readFileSync(to));
  });

test('stems that say when they were recorded line up, and the mix is as long as the last of them', async () => {
  await attach('in.1', recordedAt(tone(-12), 48_000));
  const stems = await attach('in.2', recordedAt(tone(-12), 48_000 * 3));
  expect(stems.map(({ strip, start }) => [strip, start])).toEqual([
    ['in.1', 0],
    ['in.2', 2],
  ]);
  // Two seconds later, one long, and two seconds in which it may ring on.
  expect((await rendered()).measured!.seconds).toBe(5);
});

test('a stem that is gone from the disk is named, and the rest is heard; with none left a sentence says so', async () => {
  await attach('in.1', tone(-12));
  const [, gone] = await attach('in.2', tone(-20));
  rmSync(join(rig.files, 'stems', `${gone!.hash}.wav`));
  const { body } = await rig.get<StemView[]>(stemsPath());
  expect(body.map(({ strip, missing }) => [strip, missing])).toEqual([
    ['in.1', false],
    ['in.2', true],
  ]);
  expect((await rendered()).status).toBe('done');
  for (const { hash } of body) rmSync(join(rig.files, 'stems', `${hash}.wav`), { force: true });
  const request = { productionId: rig.production.id, deskId: rig.desk.id, output: 'main.1' };
  const refused = await rig.post('/renders', request);
  expect([refused.status, JSON.stringify(refused.body)]).toEqual([
    422,
    expect.stringContaining('The files of all stems are missing on the disk.'),
  ]);
});

test('a bounce says how loud it is, in the way of Broadcast Wave, and is as long as what is heard', async () => {
  await attach('in.1', tone(-12, 4));
  await attach('in.2', tone(-12, 4));
  const { id, measured } = await rendered();
  const bytes = Buffer.from(await bytesOf(`/renders/${id}/bounce.wav?depth=24`));
  expect(parseWavHeader(bytes, bytes.length)).toMatchObject({ depth: '24', frames: 6 * 48_000 });
  const loudness = bytes.readInt16LE(bytes.indexOf('bext') + 8 + 412);
  expect(loudness / 100).toBeCloseTo(measured!.loudness.integrated!, 1);
  expect(readWav(bytes).channels).toHaveLength(2);
});

test('mixes over the limit go, the longest unasked for first; what was asked for in the last hour stays', async () => {
  const files = soundFiles(rig.files);
  const db = await connect({
    database: rig.database,
    databasePort: Number(process.env['OLD_ECHO_DB_PORT']),
    databasePassword: process.env['OLD_ECHO_DB_PASSWORD'] ?? '',
  });
  try {
    const views = [];
    for (const solo of ['in.1', 'in.2', null]) views.push(await rendered({ solo }));
    const ids = views.map(({ id }) => id);
    const size = statSync(files.mix(ids[0]!)).size;
    const [hour, now] = [3_600_000, new Date()];
    await pruneRenders(db, files, size, now);
    expect(ids.map((id) => existsSync(files.mix(id)))).toEqual([true, true, true]);
    await db('renders')
      .whereIn('id', ids)
      .update({ used_at: new Date(now.getTime() - 2 * hour) });
    await db('renders')
      .where('id', ids[0]!)
      .update({ used_at: new Date(now.getTime() - 3 * hour) });
    await db('renders')
      .where('id', ids[1]!)
      .update({ kept_until: new Date(now.getTime() + hour) });
    await pruneRenders(db, files, 0, now);
    // What is kept longer stays too, whoever sent it along may be heard.
    expect(ids.map((id) => existsSync(files.mix(id)))).toEqual([false, true, false]);
    expect((await rig.get(`/renders/${ids[0]}`)).status).toBe(404);
    expect((await rendered({ solo: 'in.1' })).status).toBe('done');
  } finally {
    await db.destroy();
  }
});

test('whoever takes a long file along slowly keeps nobody from anything', async () => {
  await attach('in.1', tone(-12, 60));
  const { id } = await rendered();
  const url = `http://127.0.0.1:${rig.running.port}/api/renders/${id}/bounce.wav`;
  const slow = await Promise.all(
    Array.from(
      { length: 14 },
      () =>
        new Promise<IncomingMessage>((taken, failed) => {
          // Nothing of it is read.
          get(url, (answer) => taken(answer.pause())).on('error', failed);
        }),
    ),
  );
  try {
    expect(slow.map(({ statusCode }) => statusCode)).toEqual(slow.map(() => 200));
    expect((await rig.get('/desks')).status).toBe(200);
    expect((await bytesOf(`/renders/${id}/bounce.wav?depth=16`)).length).toBeGreaterThan(60 * 48_000 * 4);
  } finally {
    for (const answer of slow) answer.destroy();
  }
});
