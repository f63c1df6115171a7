import type { EntryCode } from '@old-echo/core/contracts/device';
import type { HereView, PersonView } from '@old-echo/core/contracts/person';
import type { Problem } from '@old-echo/core/contracts/problem';

import { Rig } from '../server-rig';
import { makeCertificate, networkSettings, Phone } from './network';

jest.setTimeout(180_000);

const certificate = makeCertificate();
let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open(networkSettings(certificate));
});
afterAll(() => rig.close());
const inDatabase = async (statement: string): Promise<unknown> => {
  const admin = rig.admin();
  const [rows] = (await admin.raw(statement.replaceAll('@DB', rig.database))) as [unknown];
  await admin.destroy();
  return rows;
};
afterEach(() => inDatabase('DELETE FROM @DB.attempts'));

const GOOD = 'harbour violet thimble eleven';
const phone = () => new Phone(rig, certificate.authority);
const typeOf = ({ body }: { readonly body: object }) => (body as Problem).type;
const personOf = async (name: string) =>
  (await rig.get<PersonView[]>('/people')).body.find((one) => one.name === name)!;

/** Somebody with a password, in on one device. */
async function withPassword(name: string, password = GOOD): Promise<Phone> {
  const one = phone();
  await one.letIn('First device', 'engineer', name);
  expect((await one.ask('POST', '/password', { password })).status).toBe(200);
  return one;
}

describe('a password', () => {
  test('lets the same person in on another device; of it only a hash by Argon2id is kept, as OWASP asks for', async () => {
    await withPassword('Rosa');
    const second = phone();
    const answer = await second.signIn('Rosa', GOOD, 'Tablet');
    expect([answer.status, answer.body['name']]).toEqual([201, 'Tablet']);
    const here = (await second.ask('GET', '/here')).body as unknown as HereView;
    expect(here).toMatchObject({ role: 'engineer', person: { name: 'Rosa', hasPassword: true } });
    expect((await personOf('Rosa')).devices.map(({ name }) => name)).toEqual(['Tablet', 'First device']);
    // OWASP, Password Storage Cheat Sheet: 19 MiB, two passes, one lane.
    const [row] = (await inDatabase("SELECT password_hash FROM @DB.people WHERE name = 'Rosa'")) as {
      password_hash: string;
    }[];
    expect(row?.password_hash).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    expect(JSON.stringify(here)).not.toContain('argon2');
    expect(JSON.stringify((await rig.get('/people')).body)).not.toContain('argon2');
  });

  test('that is wrong lets nobody in, and says no more where nobody has that name', async () => {
    await withPassword('Ines');
    const wrong = await phone().signIn('Ines', 'harbour violet thimble twelve');
    const nobody = await phone().signIn('Nobody at all', GOOD);
    expect([typeOf(wrong), wrong.body]).toEqual(['urn:old-echo:wrong-secret', nobody.body]);
    expect(wrong.headers['set-cookie']).toBeUndefined();
    const without = phone();
    await without.letIn('Device', 'viewer', 'Without');
    for (const guess of ['', ' ', 'null'])
      expect([403, 422]).toContain((await phone().signIn('Without', guess)).status);
  });

  test('is guessed ten times in five minutes, whoever guesses; a restart does not forget it, and the right one helps no more', async () => {
    await withPassword('Bruna');
    // As if from ten addresses: those are counted apart.
    for (let i = 0; i < 10; i++) {
      expect(typeOf(await phone().signIn('BRUNA', `wrong wrong wrong ${i}`))).toBe('urn:old-echo:wrong-secret');
      await inDatabase("DELETE FROM @DB.attempts WHERE `key` LIKE 'sign-in:%127.0.0.1%'");
    }
    expect(typeOf(await phone().signIn('Bruna', GOOD))).toBe('urn:old-echo:try-later');
    await rig.running.close();
    await rig.start();
    expect(typeOf(await phone().signIn('Bruna', GOOD))).toBe('urn:old-echo:try-later');
    // Somebody else gets in.
    await withPassword('Carla');
    expect((await phone().signIn('Carla', GOOD)).status).toBe(201);
  });

  test.each([
    ['too short', 'k7#Qm2!x'],
    ['among those that everybody tries first', 'password1234'],
    ['a row of keys', 'qwertyuiopasdf'],
    ['one word again and again', 'echoechoechoecho'],
    ['of whose name it is', 'wilhelmina1234'],
    ['too long', 'x7'.repeat(65)],
  ])('is not taken that is %s', async (_, password) => {
    const one = phone();
    await one.letIn('Device', 'viewer', `Wilhelmina ${performance.now()}`.slice(0, 40));
    expect((await one.ask('POST', '/password', { password })).status).toBe(422);
    expect((await one.ask('GET', '/here')).body).toMatchObject({ person: { hasPassword: false } });
  });

  test('takes any letters, as long as one likes up to 128, and what looks the same is the same (NFC)', async () => {
    await withPassword('Zoë', `Wäschekorb 🎻 ${'leise '.repeat(10)}`);
    expect((await phone().signIn('Zoë', `Wa\u0308schekorb 🎻 ${'leise '.repeat(10)}`)).status).toBe(201);
  });

  test('is changed by who knows it, taken back, and taken away by an owner who forgot nothing but helps', async () => {
    const one = await withPassword('Dora');
    const next = 'gravel monday ribbon orbit';
    expect(typeOf(await one.ask('POST', '/password', { current: 'not it', password: next }))).toBe(
      'urn:old-echo:wrong-secret',
    );
    expect((await one.ask('POST', '/password', { current: GOOD, password: next })).status).toBe(200);
    expect((await phone().signIn('Dora', GOOD)).status).toBe(403);
    expect((await phone().signIn('Dora', next)).status).toBe(201);
    await rig.post(`/people/${(await personOf('Dora')).id}/forget-password`, {});
    expect((await phone().signIn('Dora', next)).status).toBe(403);
    // The terminal’s owner makes a new code, and a password is set without the one of before.
    const { code } = (await rig.post<EntryCode>('/entry-codes', { personId: (await personOf('Dora')).id })).body;
    const again = phone();
    expect((await again.enter(code)).status).toBe(201);
    expect((await again.ask('POST', '/password', { password: GOOD })).status).toBe(200);
  });

  test('changed, it signs out whoever was in by it elsewhere, where that is wanted, and nobody else', async () => {
    const [one, other] = [await withPassword('Greta'), phone()];
    const somebodyElse = await withPassword('Hedda');
    const isIn = async (who: typeof one) => (await who.ask('GET', '/desks')).status === 200;
    await other.signIn('Greta', GOOD);
    const next = 'gravel monday ribbon orbit';
    await one.ask('POST', '/password', { current: GOOD, password: next });
    expect(await Promise.all([one, other, somebodyElse].map(isIn))).toEqual([true, true, true]);
    await one.ask('POST', '/password', { current: next, password: GOOD, signOutOthers: true });
    expect(await Promise.all([one, other, somebodyElse].map(isIn))).toEqual([true, false, true]);
  });

  test('is taken by TLS alone', async () => {
    for (const [path, body] of [
      ['/sign-in', { name: 'Rosa', password: GOOD, device: 'Here' }],
      ['/password', { password: GOOD }],
    ] as const)
      expect(typeOf(await rig.post(path, body))).toBe('urn:old-echo:conflict');
  });
});

test('who signs out is out with this device alone; who is removed, with all, at once', async () => {
  const one = await withPassword('Emma');
  const two = phone();
  await two.signIn('Emma', GOOD);
  expect((await two.ask('POST', '/sign-out', {})).headers['set-cookie']?.[0]).toMatch(
    /^__Host-old-echo=;.*Expires=Thu, 01 Jan 1970/,
  );
  expect(typeOf(await two.ask('GET', '/desks'))).toBe('urn:old-echo:not-let-in');
  expect((await one.ask('GET', '/desks')).status).toBe(200);
  const { id } = await personOf('Emma');
  expect((await rig.post(`/people/${id}/remove`, {})).status).toBe(200);
  expect(typeOf(await one.ask('GET', '/desks'))).toBe('urn:old-echo:not-let-in');
  expect((await phone().signIn('Emma', GOOD)).status).toBe(403);
  expect((await rig.post(`/people/${id}/remove`, {})).status).toBe(404);
  expect((await rig.call('PATCH', `/people/${id}`, { role: 'owner' })).status).toBe(404);
  expect((await rig.post('/sign-out', {})).status).toBe(409);
});

test('a token that was sent along before is never the one of who gets in (session fixation)', async () => {
  await withPassword('Fanny');
  const one = phone();
  const planted = `__Host-old-echo=${'A'.repeat(43)}`;
  one.cookie = planted;
  expect((await one.signIn('Fanny', GOOD)).status).toBe(201);
  expect(one.cookie).not.toBe(planted);
});

describe('without TLS, on a network where it cannot be had', () => {
  beforeAll(async () => {
    await rig.running.close();
    await rig.start({ OLD_ECHO_PLAIN: '1', OLD_ECHO_CERTIFICATE: '' });
  });

  test('a device gets in by a code, and every page is told that others can listen', async () => {
    const one = new Phone(rig, certificate.authority, true);
    const answer = await one.letIn('Venue phone');
    expect(answer.status).toBe(201);
    const [cookie = ''] = answer.headers['set-cookie'] ?? [];
    expect(cookie).toMatch(/^old-echo=[\w-]{43};.*HttpOnly.*SameSite=Strict/);
    expect(cookie).not.toContain('Secure');
    expect((await one.ask('GET', '/here')).body).toMatchObject({ role: 'engineer', network: 'http' });
    expect((await rig.post<EntryCode>('/entry-codes', { name: 'Next', role: 'viewer' })).body.addresses[0]).toMatch(
      /^http:/,
    );
    // Who is not in, is not.
    expect(typeOf(await new Phone(rig, certificate.authority, true).ask('GET', '/desks'))).toBe(
      'urn:old-echo:not-let-in',
    );
  });

  test('no password is taken there', async () => {
    const one = new Phone(rig, certificate.authority, true);
    expect(typeOf(await one.signIn('Rosa', GOOD))).toBe('urn:old-echo:conflict');
    await one.letIn('Another');
    expect(typeOf(await one.ask('POST', '/password', { password: GOOD }))).toBe('urn:old-echo:conflict');
  });
});
