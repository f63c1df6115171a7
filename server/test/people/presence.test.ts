import WebSocket from 'ws';

import type { LiveMessage, Present } from '@old-echo/core/contracts/live';

import { Rig, until } from '../server-rig';
import { makeCertificate, networkSettings, Phone } from './network';

jest.setTimeout(120_000);

const certificate = makeCertificate();
let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open(networkSettings(certificate));
});
afterAll(() => rig.close());

/** A page that is open, and who it was told is here besides. */
function page(on: Phone | 'this machine') {
  const port = on === 'this machine' ? rig.running.port : rig.running.networkPort;
  const scheme = on === 'this machine' ? 'ws' : 'wss';
  const more = on === 'this machine' ? {} : { ca: on.trusts, headers: { cookie: on.cookie, origin: on.origin } };
  const socket = new WebSocket(`${scheme}://127.0.0.1:${port}/api/live?desk=${rig.desk.id}`, more);
  const seen: { others: readonly Present[]; told: number } = { others: [], told: 0 };
  socket.on('message', (data: Buffer) => {
    const message = JSON.parse(data.toString()) as LiveMessage;
    if (message.type === 'people') [seen.others, seen.told] = [message.others, seen.told + 1];
  });
  const isOpen = new Promise((resolve) => socket.once('open', resolve));
  return { seen, isOpen, say: (words: string) => socket.send(words), close: () => socket.close() };
}
const letIn = async (device: string, person: string) => {
  const phone = new Phone(rig, certificate.authority);
  await phone.letIn(device, 'engineer', person);
  return phone;
};

test('everybody sees who else is here, on which device and at what; who goes is gone', async () => {
  const [rosa, tam] = [page(await letIn('Phone', 'Rosa')), page(await letIn('Tablet', 'Tam'))];
  const here = page('this machine');
  await Promise.all([rosa.isOpen, tam.isOpen, here.isOpen]);
  rosa.say(JSON.stringify({ at: '/mixes/01ARZ3NDEKTSV4RRFFQ69G5FAV?version=1' }));
  await until(() => here.seen.others.some(({ at }) => at.startsWith('/mixes/')));
  expect(here.seen.others).toEqual(
    expect.arrayContaining([
      { person: 'Rosa', device: 'Phone', at: '/mixes/01ARZ3NDEKTSV4RRFFQ69G5FAV?version=1' },
      { person: 'Tam', device: 'Tablet', at: '/' },
    ]),
  );
  await until(() => tam.seen.others.length === 2);
  expect(tam.seen.others.map(({ person }) => person).sort()).toEqual(['', 'Rosa']);
  tam.close();
  await until(() => here.seen.others.length === 1);
  rosa.close();
  await until(() => here.seen.others.length === 0);
  here.close();
});

test('pages of one device are one, and pages of this machine alone are told nothing', async () => {
  const [one, two] = [page('this machine'), page('this machine')];
  await Promise.all([one.isOpen, two.isOpen]);
  const phone = await letIn('Phone of Ines', 'Ines');
  const [first, second] = [page(phone), page(phone)];
  await Promise.all([first.isOpen, second.isOpen]);
  await until(() => one.seen.others.length === 1 && first.seen.others.length === 1);
  expect(first.seen.others).toEqual([{ person: '', device: '', at: '/' }]);
  first.close();
  second.close();
  await until(() => one.seen.others.length === 0);
  const { told } = one.seen;
  two.say(JSON.stringify({ at: '/library' }));
  // Somebody comes and goes: what was said before would have been told by then.
  const again = page(phone);
  await until(() => one.seen.others.length === 1);
  expect(one.seen.told).toBe(told + 1);
  for (const socket of [one, two, again]) socket.close();
});

test.each([
  'no JSON',
  '[]',
  '"/desk"',
  '{"at":7}',
  '{"at":"elsewhere"}',
  '{"at":"//elsewhere.example/<script>"}',
  `{"at":"/${'x'.repeat(300)}"}`,
  '{"__proto__":{"at":"/desk"}}',
])('what a page says that is no place is nothing: %s', async (words) => {
  const here = page('this machine');
  const rosa = page(await letIn('Phone', `Rosa ${performance.now()}`.slice(0, 40)));
  await Promise.all([here.isOpen, rosa.isOpen]);
  rosa.say(words);
  rosa.say('{"at":"/library"}');
  await until(() => here.seen.others.some(({ at }) => at === '/library'));
  expect(here.seen.others.every(({ at }) => ['/', '/library'].includes(at))).toBe(true);
  rosa.close();
  here.close();
});
