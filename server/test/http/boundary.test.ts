import { type OutgoingHttpHeaders, request } from 'node:http';
import { connect } from 'node:net';

import WebSocket from 'ws';

import type { ImportView } from '@old-echo/core/contracts/file-transfer';
import type { Problem } from '@old-echo/core/contracts/problem';

import { Gate } from '../gate';
import { Rig, until } from '../server-rig';

jest.setTimeout(120_000);

/** A server in a process of its own, so that a test would see it end; its way to the database can be cut. */
let gate: Gate;
let rig: Rig;
beforeAll(async () => {
  gate = await Gate.open(Number(process.env['OLD_ECHO_DB_PORT']));
  rig = await Rig.open({ OLD_ECHO_DB_PORT: String(gate.port) }, { ownProcess: true });
});
afterAll(async () => {
  await rig.close();
  await gate.close();
});

const lives = async () => (await rig.get('/desks')).status === 200;

/** Sends bytes as they are and waits until the server has closed the line. */
const raw = (text: string) =>
  new Promise<string>((resolve) => {
    let answer = '';
    const socket = connect(rig.running.port, '127.0.0.1', () => socket.write(text));
    socket.on('data', (bytes) => (answer += bytes.toString()));
    socket.on('close', () => resolve(answer)).on('error', () => undefined);
    socket.setTimeout(1000, () => socket.destroy());
  });

/** A request with whatever headers a page could be made to send. */
const ask = (method: string, path: string, headers: OutgoingHttpHeaders, body?: string) =>
  new Promise<{ status: number; body: string }>((resolve, reject) => {
    const asked = request({ port: rig.running.port, host: '127.0.0.1', method, path, headers }, (answer) => {
      let text = '';
      answer.on('data', (bytes: Buffer) => (text += bytes.toString()));
      answer.on('end', () => resolve({ status: answer.statusCode ?? 0, body: text }));
    });
    asked.on('error', reject).end(body);
  });

/** Whether a page with this origin, reaching the server under this name, gets a live channel. */
const opens = (headers: Record<string, string>) =>
  new Promise<boolean>((resolve) => {
    const socket = new WebSocket(`ws://127.0.0.1:${rig.running.port}/api/live?desk=${rig.desk.id}`, { headers });
    socket.on('message', () => {
      resolve(true);
      socket.terminate();
    });
    socket.on('error', () => resolve(false));
  });

describe('whatever a stranger sends, the server goes on', () => {
  const upgrade = (path: string) =>
    `GET ${path} HTTP/1.1\r\nHost: 127.0.0.1\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n` +
    'Sec-WebSocket-Version: 13\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n\r\n';
  it.each(['//', '///', '/api/live/../', '/api/live?desk', 'http://', '/%', '*'])('an upgrade to %s', async (path) => {
    await raw(upgrade(path));
    expect(await lives()).toBe(true);
  });
  it('an upgrade that is cut off', async () => {
    const socket = connect(rig.running.port, '127.0.0.1');
    socket.on('error', () => undefined);
    await new Promise<void>((resolve) => socket.write(upgrade('/api/live?desk=x'), () => resolve()));
    socket.resetAndDestroy();
    expect(await lives()).toBe(true);
  });
});

// RFC 6455, 10.2: a server that does not want pages of other origins looks at Origin; RFC 9110, 7.2: and at Host.
describe('only pages of its own reach a desk', () => {
  const own = () => `127.0.0.1:${rig.running.port}`;
  it('over the live channel', async () => {
    expect(await opens({ origin: `http://${own()}` })).toBe(true);
    expect(await opens({})).toBe(true);
    expect(await opens({ origin: 'http://elsewhere.example' })).toBe(false);
    expect(await opens({ origin: `http://127.0.0.1:${rig.running.port + 1}` })).toBe(false);
    expect(await opens({ origin: 'null' })).toBe(false);
    expect(await opens({ host: 'rebound.example' })).toBe(false);
  });
  it('and over the API, and what was refused moved nothing', async () => {
    const path = `/api/desks/${rig.desk.id}/settings`;
    const body = JSON.stringify({ settings: { 'in.1/fader/level': 3 } });
    const json = { 'content-type': 'application/json' };
    const before = rig.front.desk.settings()['in.1/fader/level'];
    for (const headers of [
      { host: own(), origin: 'http://elsewhere.example' },
      { host: `rebound.example:${rig.running.port}` },
      { host: `rebound.example:${rig.running.port}`, origin: `http://rebound.example:${rig.running.port}` },
      { host: own(), origin: 'null' },
    ]) {
      const answer = await ask('POST', path, { ...json, ...headers }, body);
      expect(answer.status).toBe(403);
      expect((JSON.parse(answer.body) as Problem).type).toBe('urn:old-echo:forbidden');
    }
    expect(rig.front.desk.settings()['in.1/fader/level']).toBe(before);
    for (const headers of [{ host: own(), origin: `http://${own()}` }, { host: `localhost:${rig.running.port}` }])
      expect((await ask('GET', '/api/desks', headers)).status).toBe(200);
  });
});

// Fetch Metadata (W3C): browsers say from where a request comes, also where they send no Origin.
describe('what browsers say of a request counts', () => {
  const own = () => ({ host: `127.0.0.1:${rig.running.port}` });
  const navigate = { 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'document' };
  it.each<[string, string, OutgoingHttpHeaders, boolean]>([
    ['a page of ours', '/api/desks', { 'sec-fetch-site': 'same-origin' }, true],
    ['an address that was typed', '/api/desks', { 'sec-fetch-site': 'none', ...navigate }, true],
    ['a picture in a page of another site', '/api/desks', { 'sec-fetch-site': 'cross-site' }, false],
    ['a page on another port', '/api/desks', { 'sec-fetch-site': 'same-site' }, false],
    ['a link to the API', '/api/desks', { 'sec-fetch-site': 'cross-site', ...navigate }, false],
    ['a link to a page', '/mixes', { 'sec-fetch-site': 'cross-site', ...navigate }, true],
    ['a frame', '/mixes', { 'sec-fetch-site': 'cross-site', ...navigate, 'sec-fetch-dest': 'iframe' }, false],
  ])('%s', async (_, path, headers, passes) => {
    expect((await ask('GET', path, { ...own(), ...headers })).status !== 403).toBe(passes);
  });
  it('a link under a name that is not ours is no link here', async () => {
    const headers = { host: 'rebound.example', 'sec-fetch-site': 'cross-site', ...navigate };
    expect((await ask('GET', '/mixes', headers)).status).toBe(403);
  });
  it('nothing of ours is shown in a frame, guessed at, or run that is not ours', async () => {
    const { headers } = await fetch(`http://127.0.0.1:${rig.running.port}/api/desks`);
    expect(headers.get('content-security-policy')).toMatch(/default-src 'self';.*frame-ancestors 'none'/);
    expect(headers.get('content-security-policy')).not.toMatch(/'unsafe-eval'|script-src[^;]*unsafe-inline/);
    expect(headers.get('x-content-type-options')).toBe('nosniff');
    expect(headers.get('cross-origin-resource-policy')).toBe('same-origin');
  });
});

describe('pages are bounded', () => {
  const page = () =>
    new WebSocket(`ws://127.0.0.1:${rig.running.port}/api/live?desk=${rig.desk.id}`, { perMessageDeflate: false });
  const opened = (socket: WebSocket) =>
    new Promise<boolean>((resolve) => {
      socket.once('message', () => resolve(true));
      socket.once('error', () => resolve(false));
    });
  it('two hundred at once; the next is told to come back, and may, once one has gone', async () => {
    const pages = Array.from({ length: 200 }, page);
    expect((await Promise.all(pages.map(opened))).every(Boolean)).toBe(true);
    expect(await opened(page())).toBe(false);
    for (const socket of pages) socket.terminate();
    await until(() => opened(page()));
  });
  it('one that sends a great deal is let go of', async () => {
    const socket = page();
    await opened(socket);
    const closed = new Promise((resolve) => socket.once('close', resolve));
    socket.send('x'.repeat(100_000));
    expect(await closed).toBe(1009);
  });
});

describe('the database goes away in the middle of work that nobody waits for', () => {
  it('the server goes on, and the work says what became of it', async () => {
    const archive = await fetch(`http://127.0.0.1:${rig.running.port}/api/exports/productions/${rig.production.id}`);
    const sent = await fetch(`http://127.0.0.1:${rig.running.port}/api/imports?name=show`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: await archive.arrayBuffer(),
    });
    const file = (await sent.json()) as ImportView;
    const include = file.branches.flatMap(({ children }) => children.map(({ id }) => id));
    expect(include.length).toBeGreaterThan(0);
    expect((await rig.post(`/imports/${file.id}/start`, { include, replace: false })).status).toBeLessThan(300);
    gate.cut();
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect((await rig.get('/desks')).status).toBe(500);
    gate.reopen();
    await until(lives);
    await until(
      async () => (await rig.get<ImportView>(`/imports/${file.id}/progress`)).body.job?.status !== 'running',
      60_000,
    );
    expect(['failed', 'done']).toContain((await rig.get<ImportView>(`/imports/${file.id}/progress`)).body.job?.status);
  });
});
