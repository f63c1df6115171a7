import type { MixNoteView } from '@old-echo/core/contracts/mix-note';
import type { OutboardView } from '@old-echo/core/contracts/outboard';
import type { VenueView } from '@old-echo/core/contracts/part';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { Removal } from '@old-echo/core/contracts/removal';
import type { NamedScope } from '@old-echo/core/contracts/scope';
import type { StemView } from '@old-echo/core/contracts/sound';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { writeWav } from '@old-echo/core/signal/wav';
import { sine } from '@old-echo/testing/sounds';

import { Rig } from '../server-rig';

jest.setTimeout(60_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const remove = (path: string) => rig.call<Removal & Problem>('DELETE', path);
const back = ({ removal }: Removal) => rig.post<Problem>(`/removals/${removal}/back`, {});

/** Each kind of thing that one touch removes: where it is listed, how one is made, and where it is removed. */
const at = () => `/productions/${rig.production.id}`;
const version = () => rig.production.versions[0]!.id;
const KINDS: Readonly<
  Record<string, { list: () => string; make: () => Promise<string>; other: () => Promise<unknown> }>
> = {
  'a hall': {
    list: () => `${at()}/venues`,
    make: async () => {
      await rig.post(`${at()}/venues`, { name: 'Harbour Hall' });
      const { body } = await rig.get<VenueView[]>(`${at()}/venues`);
      return `${at()}/venues/${body.find(({ name }) => name === 'Harbour Hall')!.id}`;
    },
    other: () => rig.post(`${at()}/venues`, { name: 'Harbour Hall' }),
  },
  'a saved scope': {
    list: () => `/saved-scopes/${rig.desk.profileId}`,
    make: async () => {
      const scope = { profileId: rig.desk.profileId, name: 'Voices only', scope: ALL_EXCEPT_GLOBALS };
      return `/saved-scopes/${(await rig.post<NamedScope>('/saved-scopes', scope)).body.id}`;
    },
    other: () =>
      rig.post('/saved-scopes', { profileId: rig.desk.profileId, name: 'Voices only', scope: ALL_EXCEPT_GLOBALS }),
  },
  'a wish': {
    list: () => `/mix-notes?version=${version()}`,
    make: async () => {
      const mixNote = {
        versionId: version(),
        text: 'More hall',
        songSeconds: 12.5,
        requestedBy: 'Tam',
        status: 'open',
      };
      return `/mix-notes/${(await rig.post<MixNoteView>('/mix-notes', mixNote)).body.id}`;
    },
    other: () => rig.post('/mix-notes', { versionId: version(), text: 'Less hall' }),
  },
  'a device beside the desk': {
    list: () => `${at()}/outboard`,
    make: async () => {
      const device = { name: 'Tape echo', controls: [{ name: 'Time', value: '3' }], note: 'Left of the desk' };
      const { body } = await rig.post<OutboardView[]>(`${at()}/outboard`, device);
      return `${at()}/outboard/${body.at(-1)!.id}`;
    },
    other: () => rig.post(`${at()}/outboard`, { name: 'Spring', controls: [], note: '' }),
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
    expect([refused.status, refused.body.title]).toEqual([409, 'Something else has its place now.']);
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
