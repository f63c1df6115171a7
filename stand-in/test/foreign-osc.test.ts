import { execFile, spawn } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { promisify } from 'node:util';

import type { SettingsByAddress } from '@old-echo/core/desk/state';
import { encodeMessage, float, int, text, type WireMessage } from '@old-echo/desk-link/codec';
import type { DeskLink } from '@old-echo/desk-link/link';
import { openTransport } from '@old-echo/desk-link/open-transport';
import { OscLink } from '@old-echo/desk-link/osc-link';
import { skiff } from '@old-echo/testing/profiles';

import { SimulatedDesk } from '../src/desk';
import { DeskServer } from '../src/front';
import { openWeir } from './weir-desk';

/*
 * Other people's OSC: `oscsend` and `oscdump` of liblo, from Debian's liblo-tools. What they send moves the desks and is heard, and what
 * is sent to them is printed as it was meant.
 */

const oscsend = (port: number, address: string, types: string, ...values: string[]) =>
  promisify(execFile)('oscsend', ['127.0.0.1', String(port), address, types, ...values]);

const until = async (holds: () => boolean): Promise<void> => {
  for (let i = 0; !holds(); i++) {
    if (i > 1000) throw new Error('not within 10 s');
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
};

/** What a link tells of hands on the desk, all together. */
function handsHeardBy(wire: DeskLink): () => SettingsByAddress {
  let all: SettingsByAddress = {};
  wire.listen((event) => {
    if (event.type === 'hands') all = { ...all, ...event.settings };
  });
  return () => all;
}

test('what another program sends in our language moves the desk, and is heard as by hand', async () => {
  const desk = new SimulatedDesk(skiff);
  const front = new DeskServer(desk);
  const port = await front.open(0);
  const wire = new OscLink({ profile: skiff, host: '127.0.0.1', port, beat: 50 });
  const hands = handsHeardBy(wire);
  await until(() => wire.linked);
  await oscsend(port, '/in.1/fader/level', 'f', '-5.3');
  await oscsend(port, '/in.2/mute/on', 'i', '1');
  await oscsend(port, '/in.3/label/name', 's', 'Wren vox');
  // None of these is a value that the desk takes.
  await oscsend(port, '/in.4/fader/level', 'f', '40');
  await oscsend(port, '/in.4/fader/level', 'd', '-3');
  await oscsend(port, '/in.4/mute/on', 'T');
  const moved = { 'in.1/fader/level': -5.3, 'in.2/mute/on': true, 'in.3/label/name': 'Wren vox' };
  await until(() => Object.keys(hands()).length === 3);
  expect(hands()).toEqual(moved);
  expect(desk.settings()).toMatchObject({ ...moved, 'in.4/fader/level': -90, 'in.4/mute/on': false });
  await wire.close();
  await front.close();
});

test('what another program sends in a language of the desk is heard through its map', async () => {
  const { desk, front, port, link } = await openWeir();
  const wire = link();
  await until(() => wire.linked);
  await wire.readAll();
  const hands = handsHeardBy(wire);
  await oscsend(port, '/row/07/loud', 'f', '-12');
  await oscsend(port, '/row/07/open', 'F');
  await oscsend(port, '/row/07/tone/2', 'ff', '0.25', '4.5');
  await oscsend(port, '/pour/3/07/tap', 's', 'late');
  await until(() => Object.keys(hands()).length === 5);
  expect(hands()).toEqual({
    'in.7/fader/level': -12,
    'in.7/mute/on': true,
    // A quarter of the way from 200 Hz to 5 kHz, on a logarithmic scale.
    'in.7/eq/2/freq': Math.round(200 * (5000 / 200) ** 0.25),
    'in.7/eq/2/gain': 4.5,
    'in.7/sends/mix.3/tap': 'post',
  });
  expect(desk.settings()).toMatchObject(hands());
  await wire.close();
  await front.close();
});

/** A port that was free a moment ago. */
async function freePort(): Promise<number> {
  const socket = createSocket('udp4');
  await new Promise<void>((resolve) => socket.bind(0, '127.0.0.1', resolve));
  const { port } = socket.address();
  await new Promise<void>((resolve) => socket.close(() => resolve()));
  return port;
}

const SENT: readonly (readonly [WireMessage, printed: string])[] = [
  [{ address: '/row/07/loud', args: [float(-6.5)] }, '/row/07/loud f -6.500000'],
  [{ address: '/row/07/open', args: [{ type: 'F', value: false }] }, '/row/07/open F #F'],
  [{ address: '/row/07/open', args: [{ type: 'T', value: true }] }, '/row/07/open T #T'],
  [{ address: '/row/07/called', args: [text('Wren vox')] }, '/row/07/called s "Wren vox"'],
  [
    { address: '/row/07/squeeze', args: [int(1), float(-18), float(3), float(150)] },
    '/row/07/squeeze ifff 1 -18.000000 3.000000 150.000000',
  ],
  [{ address: '/there', args: [] }, '/there '],
];

test('what is sent to another program is printed as it was meant', async () => {
  const port = await freePort();
  const dump = spawn('oscdump', ['-L', String(port)], { stdio: ['ignore', 'pipe', 'inherit'] });
  let printed = '';
  dump.stdout.on('data', (bytes: Buffer) => (printed += bytes.toString()));
  let isReady = false;
  const transport = openTransport(
    'udp',
    { host: '127.0.0.1', port },
    {
      onReady: () => (isReady = true),
      onPacket: () => undefined,
    },
  );
  transport.connect();
  await until(() => isReady);
  // Until it listens.
  for (let i = 0; !printed.includes('/begin') && i < 200; i++) {
    transport.send(encodeMessage({ address: '/begin', args: [] }));
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  for (const [message] of SENT) transport.send(encodeMessage(message));
  transport.send(encodeMessage({ address: '/end', args: [] }));
  await until(() => printed.includes('/end'));
  const lines = printed.split('\n').map((line) => line.replace(/^\S+ /, ''));
  expect(lines.filter((line) => !/^\/(begin|end) |^$/.test(line))).toEqual(SENT.map(([, line]) => line));
  await transport.close();
  dump.kill();
});
