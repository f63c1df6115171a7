import { type ChildProcess, fork } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

import { addressesOf, defaultState, valueAt } from '@old-echo/core/desk/state';
import { decode, encodeBundles, encodeMessage, float, int, type Message } from '@old-echo/desk-link/codec';
import { OscLink } from '@old-echo/desk-link/osc-link';
import { toArguments } from '@old-echo/desk-link/values';
import { skiff } from '@old-echo/testing/profiles';

import { SimulatedDesk } from '../src/desk';
import { DeskServer } from '../src/front';

const ROOT = join(__dirname, '..', '..');

/** Sends bytes and collects what comes back within a moment. */
async function converse(port: number, packets: readonly Uint8Array[], wait = 150): Promise<Message[]> {
  const socket = createSocket('udp4');
  const heard: Message[] = [];
  socket.on('message', (bytes) => heard.push(...(decode(bytes) ?? [])));
  for (const packet of packets) socket.send(packet, port, '127.0.0.1');
  await new Promise((resolve) => setTimeout(resolve, wait));
  await new Promise<void>((resolve) => socket.close(() => resolve()));
  return heard;
}

test('a desk that names its pace is sent no more than it can take', async () => {
  const pace = 30_000;
  const slow = { ...skiff, pace };
  const front = new DeskServer(new SimulatedDesk(skiff));
  const link = new OscLink({ profile: slow, host: '127.0.0.1', port: await front.open(0) });
  await new Promise<void>((resolve) => link.listen((event) => event.type === 'linked' && resolve()));
  const settings = Object.fromEntries(
    addressesOf(skiff)
      .filter((a) => a.startsWith('in.'))
      .map((a) => [a, valueAt(defaultState(skiff), a)!]),
  );
  const bytes = encodeBundles(
    Object.entries(settings).map(([a, v]) => ({ address: `/${a}`, args: toArguments(v) })),
  ).reduce((n, p) => n + p.length, 0);
  const began = performance.now();
  await link.write(settings);
  const seconds = (performance.now() - began) / 1000;
  // The last packet is sent when its turn comes, not when it is over.
  expect(seconds).toBeGreaterThan((bytes - 1400) / pace - 0.05);
  // Closed while packets wait for their turn: nothing more is sent, and nothing fails.
  const waiting = link.write(settings);
  await link.close();
  await waiting;
  await front.close();
});

describe('the simulated desk on the wire', () => {
  let front: DeskServer;
  let port: number;
  beforeEach(async () => {
    front = new DeskServer(new SimulatedDesk(skiff));
    port = await front.open(0);
  });
  afterEach(() => front.close());

  test('answers any OSC program: an address alone asks, an address with a value sets, at its own resolution', async () => {
    await converse(port, [encodeMessage({ address: '/in.1/fader/level', args: [float(-5.04)] })]);
    const heard = await converse(port, [encodeMessage({ address: '/in.1/fader/level', args: [] })]);
    expect(heard.at(-1)).toEqual({ address: '/in.1/fader/level', args: [float(-5)] });
  });

  test.each([
    ['a strip it does not have', '/in.40/fader/level', -5],
    ['a section it does not have', '/in.1/gate/threshold', -5],
    ['a level out of range', '/in.1/fader/level', 40],
  ])('refuses %s', async (_, address, value) => {
    const before = front.desk.settings();
    const heard = await converse(port, [encodeMessage({ address, args: [float(value)] })]);
    expect(heard.map((m) => [m.address, m.args[0]?.value])).toEqual([['/link/refused', address.slice(1)]]);
    expect(front.desk.settings()).toEqual(before);
  });

  test('an answer names a later number once what it tells has moved, so that the older of two answers can be told', async () => {
    const ask = encodeBundles([{ address: '/in.1/fader/level', args: [] }], () => ({
      address: '/link/read',
      args: [int(1)],
    }));
    const write = encodeMessage({ address: '/in.1/fader/level', args: [float(-7)] });
    const heard = await converse(port, [...ask, write, ...ask]);
    const [before, after] = heard.filter((m) => m.address === '/link/values').map((m) => Number(m.args[0]?.value));
    expect(heard.at(-1)).toEqual({ address: '/in.1/fader/level', args: [float(-7)] });
    expect(after).toBeGreaterThan(before!);
  });

  test('malformed packets do not hurt it', async () => {
    const before = front.desk.settings();
    const noise = Array.from({ length: 200 }, (_, i) =>
      Buffer.from(Array.from({ length: i }, (__, j) => (i * 31 + j * 17) % 256)),
    );
    const truncated = encodeMessage({ address: '/in.1/fader/level', args: [float(-5)] });
    await converse(port, [
      ...noise,
      ...Array.from({ length: truncated.length }, (_, i) => truncated.subarray(0, i)),
      Buffer.from('#bundle\0broken'),
    ]);
    expect(front.desk.settings()).toEqual(before);
    expect(await converse(port, [encodeMessage({ address: '/in.1/mute/on', args: [] })])).toHaveLength(2);
  });
});

describe('the simulated desk as a process', () => {
  const running: ChildProcess[] = [];
  const folder = mkdtempSync(join(tmpdir(), 'old-echo-desk-'));
  const keep = join(folder, 'kept.json');
  const start = (port: number) => {
    const child = fork(
      join(ROOT, 'stand-in', 'dist', 'main.mjs'),
      [
        '--profile',
        join(ROOT, 'demo', 'profiles', 'skiff-16.json'),
        '--port',
        String(port),
        '--control',
        String(port),
        '--keep',
        keep,
      ],
      { silent: true, cwd: ROOT },
    );
    running.push(child);
    return child;
  };
  const ready = (child: ChildProcess) => new Promise((resolve) => child.once('message', resolve));
  const ended = (child: ChildProcess) => new Promise<number | null>((resolve) => child.once('exit', resolve));
  const terminate = (child: ChildProcess) => {
    const end = ended(child);
    child.kill('SIGTERM');
    return end;
  };
  afterAll(async () => {
    for (const child of running) if (child.exitCode === null) await terminate(child);
    rmSync(folder, { recursive: true });
  });

  test('keeps its state across restarts, takes hands over its control port, and says when its port is taken', async () => {
    const probe = createServer();
    const port = await new Promise<number>((resolve) =>
      probe.listen(0, '127.0.0.1', () => resolve((probe.address() as { port: number }).port)),
    );
    await new Promise((resolve) => probe.close(resolve));
    const control = (path: string, init?: RequestInit) =>
      fetch(`http://127.0.0.1:${port}${path}`, { headers: { 'content-type': 'application/json' }, ...init });

    const first = start(port);
    await ready(first);
    const moved = await control('/moves', {
      method: 'POST',
      body: JSON.stringify({ 'in.3/fader/level': -12.34, 'in.99/fader/level': 0 }),
    });
    expect(await moved.json()).toEqual({ moved: 1 });
    const second = start(port);
    let said = '';
    second.stderr?.on('data', (chunk: Buffer) => (said += chunk.toString()));
    expect(await ended(second)).toBe(1);
    expect(said).toContain(`Port ${port} is taken`);
    await terminate(first);

    const third = start(port);
    await ready(third);
    const settings = (await (await control('/settings')).json()) as Record<string, unknown>;
    expect(settings['in.3/fader/level']).toBe(-12.3);
  }, 30_000);
});
