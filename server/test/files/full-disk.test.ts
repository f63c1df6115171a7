import fs from 'node:fs';
import promises from 'node:fs/promises';
import { Writable } from 'node:stream';

import type { Problem } from '@old-echo/core/contracts/problem';
import { writeWav } from '@old-echo/core/signal/wav';
import { sine } from '@old-echo/testing/sounds';

import { Rig } from '../server-rig';
import { api, download, upload } from './file-steps';

jest.setTimeout(120_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterEach(() => jest.restoreAllMocks());
afterAll(() => rig.close());

const stem = () =>
  fetch(api(rig, `/productions/${rig.production.id}/stems/in.1?name=Fiddle.wav`), {
    method: 'PUT',
    headers: { 'content-type': 'audio/wav' },
    body: Buffer.from(writeWav(sine(440, -20, 0.1), '16', false)),
  });
const told = async (answer: Response) => {
  const { type, title } = (await answer.json()) as Problem;
  return [answer.status, type, title];
};

test('with little room left nothing is begun that writes much, and everything else goes on', async () => {
  const archive = await download(rig, `/exports/productions/${rig.production.id}`);
  const file = (await upload(rig, archive)).body;
  const free = await promises.statfs('.');
  jest.spyOn(promises, 'statfs').mockResolvedValue(Object.assign(free, { bavail: 100, bsize: 1_000_000 }));
  const refused = [507, 'urn:old-echo:disk-full', 'The disk has 100 MB left, which is too little for this.'];
  expect(await told(await stem())).toEqual(refused);
  const another = await upload(rig, archive);
  expect([another.status, another.body.type, another.body.title]).toEqual(refused);
  const small = (await rig.get<{ id: string; name: string }[]>('/desks')).body.find(({ name }) => name === 'Skiff 16')!;
  const { id: productionId } = rig.production;
  for (const [path, body] of [
    [`/imports/${file.id}/start`, { include: ['versions'], replace: false }],
    ['/conversions', { productionId, deskId: small.id }],
    ['/renders', { productionId, deskId: rig.desk.id, output: 'main.1' }],
  ] as const) {
    const answer = await rig.post<Problem>(path, body);
    expect([answer.status, answer.body.type, answer.body.title]).toEqual(refused);
  }
  expect((await rig.capture('With little room')).status).toBe(201);
});

test('a disk that runs full in the middle of an upload is told, and nothing of it stays', async () => {
  const full = Object.assign(new Error('no space left on device'), { code: 'ENOSPC' });
  jest
    .spyOn(fs, 'createWriteStream')
    .mockImplementation(() => new Writable({ write: (_, __, done) => done(full) }) as unknown as fs.WriteStream);
  expect(await told(await stem())).toEqual([507, 'urn:old-echo:disk-full', 'The disk is full.']);
  expect((await rig.get(`/productions/${rig.production.id}/stems`)).body).toEqual([]);
  jest.restoreAllMocks();
  expect((await stem()).status).toBe(200);
});
