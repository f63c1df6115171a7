import { connect as connectPlainly } from 'node:net';
import { connect, DEFAULT_MIN_VERSION } from 'node:tls';

import WebSocket from 'ws';

import type { EntryCode } from '@old-echo/core/contracts/device';
import type { HereView, PersonView } from '@old-echo/core/contracts/person';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { Route } from '@old-echo/core/contracts/route';
import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';

import { Rig, until } from '../server-rig';
import { makeCertificate, networkSettings, Phone } from './network';

jest.setTimeout(180_000);

const certificate = makeCertificate();
let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open(networkSettings(certificate));
});
afterAll(() => rig.close());
// What was tried before is forgotten, so that each test begins anew.
afterEach(async () => {
  const admin = rig.admin();
  await admin.raw('DELETE FROM ??.attempts', [rig.database]);
  await admin.destroy();
});

let codes = 0;
const phone = () => new Phone(rig, certificate.authority);
const newCode = async () =>
  (await rig.post<EntryCode>('/entry-codes', { name: `One ${++codes}`, role: 'engineer' })).body;
const devices = async () => (await rig.get<PersonView[]>('/people')).body.flatMap((person) => person.devices);
const typeOf = ({ body }: { readonly body: object }) => (body as Problem).type;

/** A live channel as a page on the network opens it: what it was told, and whether it is still open. */
function channel(of: Phone, headers: Record<string, string> = {}) {
  const at = `wss://127.0.0.1:${rig.running.networkPort}/api/live?desk=${rig.desk.id}`;
  // Browsers send an origin along, or say where the page is from.
  const own = 'sec-fetch-site' in headers ? {} : { origin: of.origin };
  const socket = new WebSocket(at, {
    ca: of.trusts,
    headers: { cookie: of.cookie, ...own, ...headers },
  });
  const seen = { told: 0, isClosed: false };
  socket.on('message', () => seen.told++);
  socket.on('close', () => (seen.isClosed = true));
  socket.on('error', () => (seen.isClosed = true));
  return { seen, close: () => socket.terminate() };
}

describe('whoever was not let in', () => {
  const all: readonly (readonly [string, Route])[] = Object.values(ROUTES).flatMap((wing) => Object.entries(wing));

  test('is refused every route of the API in a sentence, but for those by which one gets in', async () => {
    const stranger = phone();
    const answers = await Promise.all(
      all.map(async ([name, route]) => {
        const path = route.path.replaceAll(/:\w+/g, '01ARZ3NDEKTSV4RRFFQ69G5FAV');
        const { status, body } = await stranger.ask(
          route.method.toUpperCase(),
          path,
          route.method === 'get' ? undefined : {},
        );
        return { name, route, status, type: body['type'] };
      }),
    );
    const passed = answers.filter(({ type, status }) => status !== 403 || type !== 'urn:old-echo:not-let-in');
    expect(answers.length).toBeGreaterThan(150);
    expect(passed.map(({ name, status }) => [name, status])).toEqual([
      ['here', 200],
      ['enter', 422],
      ['signIn', 422],
      ['clientPage', 404],
      ['sayWord', 422],
      ['clientPiece', 404],
      ['clientFile', 404],
      ['addClientNote', 422],
      ['choose', 422],
    ]);
    expect((await stranger.ask('GET', '/here')).body).toEqual({
      role: null,
      productions: [],
      device: null,
      person: null,
      network: 'https',
    });
    // Neither by other ways to write the same address, nor the documentation.
    for (const path of ['/Here/../desks', '/DESKS', '//desks', '/desks/', '/docs', '/nothing', '/devices/../desks'])
      expect([path, (await stranger.ask('GET', path)).status]).toEqual([path, 403]);
  });

  test('opens no live channel, with a cookie of his own making neither', async () => {
    const stranger = phone();
    for (const cookie of ['', '__Host-old-echo=', `__Host-old-echo=${'A'.repeat(43)}`]) {
      stranger.cookie = cookie;
      const { seen } = channel(stranger);
      await until(() => seen.isClosed);
      expect(seen.told).toBe(0);
      expect((await stranger.ask('GET', '/desks')).status).toBe(403);
    }
  });

  test('gets in nowhere by a code that is none, was used, or is over', async () => {
    const { code } = await newCode();
    const first = phone();
    expect((await first.enter(code)).status).toBe(201);
    for (const wrong of [code, '', ' ', 'ABCDE12345', `${code}0`, "' OR 1=1 -- ", '%']) {
      const stranger = phone();
      const answer = await stranger.enter(wrong);
      expect([wrong, answer.status === 403 || answer.status === 422]).toEqual([wrong, true]);
      expect(answer.headers['set-cookie']).toBeUndefined();
    }
  });

  test('is too late after two minutes', async () => {
    const { code, endsAt } = await newCode();
    expect(Date.parse(endsAt) - new Date().getTime()).toBeGreaterThan(110_000);
    expect(Date.parse(endsAt) - new Date().getTime()).toBeLessThanOrEqual(120_000);
    const admin = rig.admin();
    await admin.raw('UPDATE ??.entry_codes SET ends_at = UTC_TIMESTAMP(3) WHERE used_at IS NULL', [rig.database]);
    await admin.destroy();
    expect(typeOf(await phone().enter(code))).toBe('urn:old-echo:not-let-in');
  });

  test('is one of two who show the same code at once', async () => {
    const { code } = await newCode();
    const answers = await Promise.all(Array.from({ length: 5 }, () => phone().enter(code)));
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 403, 403, 403, 403]);
  });

  test('who tries codes is stopped, and a restart does not forget it; the right code helps no more', async () => {
    const { code } = await newCode();
    for (let i = 0; i < 10; i++) expect((await phone().enter(`WRONG${String(i).padStart(5, '0')}`)).status).toBe(403);
    expect(typeOf(await phone().enter('WRONG99999'))).toBe('urn:old-echo:try-later');
    await rig.running.close();
    await rig.start();
    expect(typeOf(await phone().enter(code))).toBe('urn:old-echo:try-later');
  });

  test('what is not TLS gets no answer at the port of the network', async () => {
    const answer = await new Promise<string>((resolve) => {
      let text = '';
      const socket = connectPlainly(rig.running.networkPort ?? 0, '127.0.0.1', () =>
        socket.write('GET /api/desks HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n'),
      );
      socket.on('data', (bytes) => (text += bytes.toString()));
      socket.on('close', () => resolve(text)).on('error', () => undefined);
    });
    expect(answer).not.toContain('200');
    expect(answer).not.toContain('Quay');
    // TLS 1.2 at least (RFC 8996 takes the older ones out of use).
    expect(DEFAULT_MIN_VERSION).toBe('TLSv1.2');
    const old = await new Promise<string>((resolve) => {
      const socket = connect({
        port: rig.running.networkPort,
        host: '127.0.0.1',
        ca: phone().trusts,
        minVersion: 'TLSv1',
        maxVersion: 'TLSv1.1',
      });
      socket.on('secureConnect', () => resolve('connected')).on('error', (error: Error) => resolve(error.message));
    });
    expect(old).not.toBe('connected');
  });
});

describe('a device that was let in', () => {
  test('shows a cookie that is for this server alone, by TLS alone, and for no script (RFC 6265bis, 4.1.3.2 and 5.2)', async () => {
    const one = phone();
    const answer = await one.letIn('Front of house');
    const [cookie = ''] = answer.headers['set-cookie'] ?? [];
    expect(cookie).toMatch(/^__Host-old-echo=[\w-]{43};/);
    for (const attribute of ['Secure', 'HttpOnly', 'SameSite=Strict', 'Path=/'])
      expect(cookie).toContain(`; ${attribute}`);
    expect(cookie).not.toContain('Domain');
    const { device, role } = (await one.ask('GET', '/here')).body as unknown as HereView;
    expect([role, device?.name]).toEqual(['engineer', 'Front of house']);
    expect((await one.ask('GET', '/desks')).status).toBe(200);
    // Neither code nor token stand in the database.
    const admin = rig.admin();
    const [rows] = (await admin.raw('SELECT * FROM ??.devices', [rig.database])) as [object[]];
    await admin.destroy();
    expect(JSON.stringify(rows)).not.toContain(one.cookie.split('=')[1]);
  });

  test('stays in over a restart, captures, and follows the desk', async () => {
    const one = phone();
    await one.letIn();
    await rig.running.close();
    await rig.start();
    const { seen, close } = channel(one);
    await until(() => seen.told > 0);
    close();
    const captured = await one.ask('POST', `/desks/${rig.desk.id}/captures`, {
      versionId: rig.production.versions[0]!.id,
      name: 'From the phone',
    });
    expect(captured.status).toBe(201);
  });

  test('lets nobody in, shuts nobody out, and does not see who else is in', async () => {
    const [one, other] = [phone(), phone()];
    await one.letIn('One');
    await other.letIn('Other');
    const { id } = (await devices()).find(({ name }) => name === 'Other')!;
    for (const [method, path] of [
      ['GET', '/people'],
      ['POST', '/entry-codes'],
      ['POST', `/devices/${id}/shut-out`],
    ] as const)
      expect([path, typeOf(await one.ask(method, path, method === 'POST' ? {} : undefined))]).toEqual([
        path,
        'urn:old-echo:forbidden',
      ]);
    expect((await other.ask('GET', '/desks')).status).toBe(200);
  });

  test('is shut out at once: its pages close within a second, and what it kept is worth nothing', async () => {
    const [one, other] = [phone(), phone()];
    await one.letIn('Lost phone');
    await other.letIn('Kept phone');
    const [lost, kept] = [channel(one), channel(other)];
    await until(() => lost.seen.told > 0 && kept.seen.told > 0);
    const { id } = (await devices()).find(({ name }) => name === 'Lost phone')!;
    expect((await rig.post(`/devices/${id}/shut-out`, {})).status).toBe(200);
    await until(() => lost.seen.isClosed, 1000);
    expect(typeOf(await one.ask('GET', '/desks'))).toBe('urn:old-echo:not-let-in');
    expect(typeOf(await one.ask('POST', `/desks/${rig.desk.id}/captures`, {}))).toBe('urn:old-echo:not-let-in');
    expect(kept.seen.isClosed).toBe(false);
    kept.close();
    expect((await devices()).map(({ name }) => name)).not.toContain('Lost phone');
    // Nor does the other server that may be at the same database let its pages open.
    const again = channel(one);
    await until(() => again.seen.isClosed);
    expect(again.seen.told).toBe(0);
  });

  test('that another server has shut out is closed here as well, within a second', async () => {
    const one = phone();
    await one.letIn('Shut out elsewhere');
    const { seen } = channel(one);
    await until(() => seen.told > 0);
    const admin = rig.admin();
    await admin.raw("UPDATE ??.devices SET shut_out_at = UTC_TIMESTAMP(3) WHERE name = 'Shut out elsewhere'", [
      rig.database,
    ]);
    await admin.destroy();
    await until(() => seen.isClosed, 1500);
  });

  test.each<[string, Record<string, string>]>([
    ['a page of another site', { origin: 'https://elsewhere.example' }],
    ['a page on another port', { origin: 'https://127.0.0.1:9' }],
    ['a page without TLS', { origin: 'http://127.0.0.1' }],
    ['a name that was pointed here', { host: 'elsewhere.example' }],
    ['a page that browsers call foreign', { 'sec-fetch-site': 'cross-site' }],
  ])('does nothing for %s, whatever cookie goes along', async (_, headers) => {
    const one = phone();
    await one.letIn();
    expect((await one.ask('GET', '/desks', undefined, headers)).status).toBe(403);
    const { seen } = channel(one, headers);
    await until(() => seen.isClosed);
    expect(seen.told).toBe(0);
  });

  test('with a name that is a script is told by that name, as text', async () => {
    const one = phone();
    const name = '<script>alert(1)</script>';
    const answer = await one.letIn(name);
    expect(answer.body['name']).toBe(name);
    expect(answer.headers['content-type']).toContain('application/json');
    expect(answer.headers['x-content-type-options']).toBe('nosniff');
    expect((await phone().letIn('x'.repeat(41))).status).toBe(422);
    expect((await phone().letIn('   ')).status).toBe(422);
  });
});

test('at the machine itself nothing is signed into; a code leads to where the network reaches it', async () => {
  expect((await rig.get<HereView>('/here')).body).toEqual({
    role: 'owner',
    productions: [],
    device: null,
    person: null,
    network: 'https',
  });
  const { code, addresses } = await newCode();
  expect(code).toMatch(/^[0-9A-HJKMNP-TV-Z]{10}$/);
  for (const address of addresses) expect(address).toMatch(/^https:\/\/[\d.]+:\d+$/);
  expect(addresses[0]).toContain(`:${rig.running.networkPort}`);
  expect(typeOf(await rig.post('/devices', { code, name: 'Here' }))).toBe('urn:old-echo:conflict');
  // Typed by hand, in small letters, with what is taken for one another.
  const typed = code.toLowerCase().replaceAll('0', 'o').replaceAll('1', 'l');
  expect((await phone().enter(`${typed.slice(0, 5)} - ${typed.slice(5)}`)).status).toBe(201);
});

test('without a certificate nobody on the network gets in, and a code says so', async () => {
  await rig.running.close();
  await rig.start({ OLD_ECHO_CERTIFICATE: '' });
  expect(rig.running.networkPort).toBeUndefined();
  expect(typeOf(await rig.post('/entry-codes', { name: 'Nobody', role: 'viewer' }))).toBe('urn:old-echo:conflict');
  expect((await rig.get<PersonView[]>('/people')).body.map(({ name }) => name)).not.toContain('Nobody');
});
