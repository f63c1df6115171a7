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
