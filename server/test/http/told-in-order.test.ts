import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';

import pino from 'pino';
import WebSocket from 'ws';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LiveMessage } from '@old-echo/core/contracts/live';

import { LiveChannel } from '../../src/live/live-channel';
import { until } from '../server-rig';

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

let server: Server;
let live: LiveChannel;
/** What the desk is called, and how long it takes to look at it, in ms. */
let name = '';
let slowness: number[] = [];
const looks: string[] = [];

beforeEach(async () => {
  [name, slowness] = ['as at first', []];
  looks.length = 0;
  live = new LiveChannel(
    {
      listen: () => undefined,
      stateOf: () => undefined,
      // What is read is what there is when it begins, however long it takes.
      viewOf: async () => {
        const read = name;
        looks.push(read);
        await pause(slowness.shift() ?? 0);
        return { name: read } as DeskView;
      },
      deskOfProduction: () => Promise.resolve(undefined),
    },
    pino({ level: 'silent' }),
    '127.0.0.1',
  );
  server = createServer().listen(0, '127.0.0.1');
  live.attach(server, () => Promise.resolve('this machine'));
  await until(() => server.listening);
});
afterEach(async () => {
  live.close();
  await new Promise((resolve) => server.close(resolve));
});

/** An open page: the names it is told, in order. */
function page(): { told: string[]; close: () => void } {
  const told: string[] = [];
  const socket = new WebSocket(`ws://127.0.0.1:${(server.address() as AddressInfo).port}/api/live?desk=one`);
  socket.on('message', (data: Buffer) => {
    const message = JSON.parse(data.toString()) as LiveMessage;
    if (message.type === 'desk') told.push(message.desk.name);
  });
  return { told, close: () => socket.terminate() };
}

test('what was read earlier is never told later, however long it took to read', async () => {
  const { told, close } = page();
  await until(() => told.length === 1);
  slowness = [150, 0];
  name = 'before';
  const first = live.deskChanged('one');
  await pause(20);
  name = 'after';
  await Promise.all([first, live.deskChanged('one')]);
  await until(() => told.length === 3);
  expect(told).toEqual(['as at first', 'before', 'after']);
  close();
});

test('many changes at once are looked at once for all that have not been looked at', async () => {
  const { told, close } = page();
  await until(() => told.length === 1);
  slowness = [50];
  await Promise.all(
    Array.from({ length: 40 }, (_, i) => {
      name = `change ${i}`;
      return live.deskChanged('one');
    }),
  );
  await until(() => told.at(-1) === 'change 39');
  expect(looks.length).toBeLessThanOrEqual(3);
  close();
});

test('a change while a page is being opened reaches that page', async () => {
  slowness = [150, 0];
  const { told, close } = page();
  await until(() => looks.length === 1);
  name = 'changed meanwhile';
  await live.deskChanged('one');
  await until(() => told.at(-1) === 'changed meanwhile');
  expect(told).toEqual(['as at first', 'changed meanwhile']);
  close();
});
