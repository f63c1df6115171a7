import type { HallView } from '@old-echo/core/contracts/part';
import type { OutboardView } from '@old-echo/core/contracts/outboard';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { NamedScope } from '@old-echo/core/contracts/scope';
import type { StemView } from '@old-echo/core/contracts/sound';
import type { TakenOff } from '@old-echo/core/contracts/taken-off';
import type { WishView } from '@old-echo/core/contracts/mix-note';
import { writeWav } from '@old-echo/core/signal/wav';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';

import { sine } from '../../core/test/fixtures';
import { Rig } from './server-rig';

jest.setTimeout(60_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const remove = (path: string) => rig.call<TakenOff & Problem>('DELETE', path);
const back = ({ takenOff }: TakenOff) => rig.post<Problem>(`/taken-off/${takenOff}/back`, {});

/** Each kind of thing that one touch removes: where it is listed, how one is made, and where it is removed. */
const at = () => `/productions/${rig.production.id}`;
const version = () => rig.production.versions[0]!.id;
const KINDS: Readonly<
  Record<string, { list: () => string; make: () => Promise<string>; other: () => Promise<unknown> }>
> = {
  'a hall': {
    list: () => `${at()}/halls`,
    make: async () => {
      await rig.post(`${at()}/halls`, { name: 'Harbour Hall' });
      const { body } = await rig.get<HallView[]>(`${at()}/halls`);
      return `${at()}/halls/${body.find(({ name }) => name === 'Harbour Hall')!.id}`;
    },
    other: () => rig.post(`${at()}/halls`, { name: 'Harbour Hall' }),
  },
  'a saved scope': {
    list: () => `/scopes/${rig.desk.profileId}`,
    make: async () => {
      const scope = { profileId: rig.desk.profileId, name: 'Voices only', scope: ALL_EXCEPT_GLOBALS };
      return `/scopes/${(await rig.post<NamedScope>('/scopes', scope)).body.id}`;
    },
    other: () => rig.post('/scopes', { profileId: rig.desk.profileId, name: 'Voices only', scope: ALL_EXCEPT_GLOBALS }),
  },
  'a wish': {
    list: () => `/wishes?version=${version()}`,
    make: async () => {
      const wish = { versionId: version(), text: 'More hall', at: 12.5, who: 'Tam', state: 'open' };
      return `/wishes/${(await rig.post<WishView>('/wishes', wish)).body.id}`;
    },
    other: () => rig.post('/wishes', { versionId: version(), text: 'Less hall' }),
  },
  'a device beside the desk': {
    list: () => `${at()}/outboard`,
    make: async () => {
      const device = { name: 'Tape echo', knobs: [{ name: 'Time', value: '3' }], note: 'Left of the desk' };
      const { body } = await rig.post<OutboardView[]>(`${at()}/outboard`, device);
      return `${at()}/outboard/${body.at(-1)!.id}`;
    },
    other: () => rig.post(`${at()}/outboard`, { name: 'Spring', knobs: [], note: '' }),
  },
  'a stem': {
    list: () => `${at()}/stems`,
    make: async () => {
      await stem(440);
      return `${at()}/stems/in.1`;
    },
    other: () => stem(220),
  },
};
const stem = async (hertz: number) => {
  const answer = await fetch(`http://127.0.0.1:${rig.running.port}/api${at()}/stems/in.1?name=Fiddle.wav`, {
    method: 'PUT',
    headers: { 'content-type': 'audio/wav' },
    body: Buffer.from(writeWav(sine(hertz, -12, 1), '24', false)),
  });
  return (await answer.json()) as StemView[];
};

test.each(Object.entries(KINDS))('%s that was removed is given back as it was, once', async (_, kind) => {
  await kind.other();
  const path = await kind.make();
  const before = (await rig.get(kind.list())).body;
  const gone = await remove(path);
  expect(gone.status).toBe(200);
  expect((await rig.get<unknown[]>(kind.list())).body).toHaveLength((before as unknown[]).length - 1);
  expect((await remove(path)).status).toBe(404);
  expect((await back(gone.body)).status).toBe(200);
  expect((await rig.get(kind.list())).body).toEqual(before);
  expect((await back(gone.body)).status).toBe(404);
});

test.each(['a hall', 'a saved scope', 'a stem'])(
  '%s whose place was taken meanwhile stays away, what took it stays, and it can be tried again',
  async (name) => {
    const { list, make, other } = KINDS[name]!;
    const gone = (await remove(await make())).body;
    await other();
    const now = (await rig.get(list())).body;
    const refused = await back(gone);
    expect([refused.status, refused.body.title]).toEqual([409, 'Something else has its place by now.']);
    expect((await rig.get(list())).body).toEqual(now);
    expect((await back(gone)).status).toBe(409);
  },
);

test('a stem that was given back can be heard: its file waited for it', async () => {
  await stem(440);
  const gone = (await remove(`${at()}/stems/in.1`)).body;
  // Another one that is taken off meanwhile does not sweep it away.
  await stem(330);
  await remove(`${at()}/stems/in.1`);
  expect((await back(gone)).status).toBe(200);
  const request = { productionId: rig.production.id, deskId: rig.desk.id, output: 'main.1' };
  expect((await rig.post('/renders', request)).status).toBe(202);
});
