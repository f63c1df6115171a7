import type { ListeningView } from '@old-echo/core/contracts/listening';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { LoggedMessages } from '@old-echo/core/desk/logged-message';
import { parseProfile } from '@old-echo/core/desk/profile';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { WeirFront } from '@old-echo/stand-in/weir-front';
import { weirSource } from '@old-echo/testing/profiles';

import { Rig, until } from '../server-rig';

jest.setTimeout(120_000);

const front = new WeirFront(new SimulatedDesk(parseProfile(weirSource)), {});
let rig: Rig;
let place: { host: string; port: number };
beforeAll(async () => {
  rig = await Rig.open();
  place = { host: '127.0.0.1', port: await front.open(0) };
});
afterAll(async () => {
  await rig.close();
  await front.close();
});

const listen = (more: object = {}) => rig.post<ListeningView & Problem>('/listenings', { ...place, ...more });
const heard = async (id: string, after = 0) =>
  (await rig.get<LoggedMessages>(`/listenings/${id}?after=${after}`)).body.messages.filter(
    ({ way }) => way === 'from the desk',
  );
const end = (id: string) => rig.call('DELETE', `/listenings/${id}`);

test('a desk that is spoken to tells what moves, before anyone knows what it means; it is asked, and left as it stood', async () => {
  const before = front.desk.settings();
  const { body } = await listen({ say: [{ address: '/there' }] });
  await until(async () => (await heard(body.id)).some(({ address }) => address === '/there/yes'));
  front.hands({ 'in.7/fader/level': -12 });
  await until(async () => (await heard(body.id)).some(({ address }) => address === '/row/07/loud'));
  const [message] = (await heard(body.id)).filter(({ address }) => address === '/row/07/loud');
  expect(message).toMatchObject({ types: 'f', args: [-12], settings: [] });
  const asked = await Promise.all(
    ['/row/07/loud', '/row/99/loud'].map((address) =>
      rig.post<{ answeredIn: number | null }>(`/listenings/${body.id}/questions`, { address }),
    ),
  );
  // The second question takes the place of the first.
  expect(asked.map((answer) => answer.body.answeredIn)).toEqual([null, null]);
  const alone = await rig.post<{ answeredIn: number | null }>(`/listenings/${body.id}/questions`, {
    address: '/row/07/loud',
  });
  expect(alone.body.answeredIn).toBeLessThan(600);
  expect(alone.body.answeredIn).toBeGreaterThan(0);
  // A question of its own, and its answer elsewhere.
  const paged = await rig.post<{ answeredIn: number | null }>(`/listenings/${body.id}/questions`, {
    address: '/tell/taps',
    arguments: [2],
    answer: '/taps/2',
  });
  expect(paged.body.answeredIn).toBeGreaterThan(0);
  expect((await heard(body.id)).at(-1)).toMatchObject({ address: '/taps/2', types: 's'.repeat(16) });
  expect(front.desk.settings()).toEqual({ ...before, 'in.7/fader/level': -12 });
  await end(body.id);
  expect((await rig.get<Problem>(`/listenings/${body.id}?after=0`)).status).toBe(404);
});

test('what is no address, no OSC or too much is refused in a sentence, and a few desks are listened to at most', async () => {
  expect((await listen({ host: 'not a host' })).status).toBe(422);
  expect((await listen({ say: [{ address: 'no slash' }] })).status).toBe(422);
  expect((await listen({ every: 1 })).status).toBe(422);
  const all = await Promise.all(Array.from({ length: 9 }, () => listen()));
  const refused = all.filter(({ status }) => status !== 201);
  expect(refused.map(({ body }) => body.title)).toEqual(['Too many desks are being learned at once.']);
  await Promise.all(all.filter(({ status }) => status === 201).map(({ body }) => end(body.id)));
});
