import { createSocket, type Socket } from 'node:dgram';
import { type AddressInfo, createServer, type Server, type Socket as Connection } from 'node:net';

import fc from 'fast-check';

import { encodeMessage } from '@old-echo/desk-link/codec';
import type { LinkEvent } from '@old-echo/desk-link/link';
import { MappedOscLink } from '@old-echo/desk-link/mapped-osc-link';

import { openWeir, weirWith } from './weir-desk';

const until = async (holds: () => boolean): Promise<void> => {
  for (let i = 0; !holds(); i++) {
    if (i > 600) throw new Error('not within 6 s');
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
};

const settingsIn = (heard: readonly LinkEvent[]): Record<string, unknown> =>
  Object.assign({}, ...heard.flatMap((event) => (event.type === 'settings-changed' ? [event.settings] : []))) as Record<
    string,
    unknown
  >;

/** The bytes of a message in a language that is not written by our own code: OSC 1.0, null-terminated and padded to four. */
const osc = (address: string, tags: string, body: Uint8Array = Buffer.alloc(0)): Uint8Array => {
  const padded = (text: string) => Buffer.from(`${text}${'\0'.repeat(4 - (text.length % 4))}`, 'latin1');
  return Buffer.concat([padded(address), padded(`,${tags}`), body]);
};
const single = (value: number): Uint8Array => {
  const bytes = Buffer.alloc(4);
  bytes.writeFloatBE(value);
  return bytes;
};

describe('packets that come from where the desk is', () => {
  const profile = weirWith(() => undefined);
  const map = profile.link!;
  let desk: Socket;
  let from: { address: string; port: number } | undefined;
  let link: MappedOscLink;
  let heard: LinkEvent[];

  beforeEach(async () => {
    heard = [];
    desk = createSocket('udp4');
    desk.on('message', (bytes, sender) => {
      from = sender;
      if (bytes.toString('latin1').startsWith('/there')) desk.send(osc('/there/yes', ''), sender.port, sender.address);
    });
    await new Promise<void>((resolve) => desk.bind(0, '127.0.0.1', resolve));
    link = new MappedOscLink({ profile, map, host: '127.0.0.1', port: desk.address().port, beat: 50, patience: 2000 });
    link.listen((event) => heard.push(event));
    await until(() => link.linked);
  });
  afterEach(async () => {
    await link.close();
    await new Promise<void>((resolve) => desk.close(() => resolve()));
  });

  const say = (packet: Uint8Array) => desk.send(packet, from!.port, from!.address);
  /** A last one that is well formed, after which all before it have been looked at. */
  const isThrough = async (): Promise<void> => {
    say(osc('/row/16/loud', 'f', single(-3)));
    await until(() => settingsIn(heard)['in.16/fader/level'] === -3);
  };

  test.each<[string, Uint8Array]>([
    ['nothing', Buffer.alloc(0)],
    ['an address and no more', Buffer.from('/row/01/loud')],
    ['a float that is cut off', osc('/row/01/loud', 'f', Buffer.alloc(2))],
    ['a text for a level', osc('/row/01/loud', 's', Buffer.from('loud\0\0\0\0'))],
    ['not a number', osc('/row/01/loud', 'f', single(NaN))],
    ['infinitely loud', osc('/row/01/loud', 'f', single(Infinity))],
    ['louder than its range', osc('/row/01/loud', 'f', single(40))],
    ['a type that no setting has', osc('/row/01/loud', 'b', Buffer.from([0, 0, 0, 4, 1, 2, 3, 4]))],
    ['no argument', osc('/row/01/loud', '')],
    ['a switch that is a number', osc('/row/01/open', 'i', Buffer.from([0, 0, 0, 1]))],
    ['a row that is not there', osc('/row/99/loud', 'f', single(0))],
    ['an option that is not there', osc('/row/01/from', 'i', Buffer.from([0, 0, 3, 0]))],
    [
      'a bundle that says it is longer than it is',
      Buffer.concat([Buffer.from('#bundle\0'), Buffer.alloc(8), Buffer.from([0, 1, 0, 0])]),
    ],
  ])('%s changes nothing', async (_, packet) => {
    say(packet);
    await isThrough();
    expect(settingsIn(heard)).toEqual({ 'in.16/fader/level': -3 });
    expect(link.linked).toBe(true);
  });

  test('any bytes at all change nothing and end nothing', async () => {
    for (const bytes of fc.sample(fc.uint8Array({ maxLength: 1400 }), 300)) say(bytes);
    const good = encodeMessage({
      address: '/row/02/tone/1',
      args: [
        { type: 'f', value: 0.5 },
        { type: 'f', value: 3 },
      ],
    });
    for (const [at, bits] of fc.sample(fc.tuple(fc.nat(good.length - 1), fc.integer({ min: 1, max: 255 })), 300)) {
      const spoiled = Uint8Array.from(good);
      spoiled[at] = (spoiled[at] ?? 0) ^ bits;
      say(spoiled);
    }
    await isThrough();
    expect(
      Object.keys(settingsIn(heard)).filter((address) => !/^in\.\d+\/eq\/\d\/(freq|gain)$|^in\.16\//.test(address)),
    ).toEqual([]);
    expect(link.linked).toBe(true);
  });

  test('what comes from another address is not heard', async () => {
    const stranger = createSocket('udp4');
    await new Promise<void>((resolve) => stranger.bind(0, '127.0.0.1', resolve));
    await new Promise<void>((resolve) =>
      stranger.send(osc('/row/01/loud', 'f', single(10)), from!.port, from!.address, () => resolve()),
    );
    await isThrough();
    expect(settingsIn(heard)['in.1/fader/level']).toBeUndefined();
    await new Promise<void>((resolve) => stranger.close(() => resolve()));
  });
});

test('over TCP a packet without an end is let go of, and the desk is found again', async () => {
  const { front, profile } = await openWeir(
    { transport: 'tcp' },
    weirWith((map) => (map['transport'] = 'tcp')),
  );
  await front.close();
  let connection: Connection | undefined;
  const server: Server = createServer((one) => {
    connection = one;
    one.on('error', () => undefined);
    // RFC 1055: END is 192. Packets begin and end with it.
    one.on('data', () => one.write(Buffer.concat([Buffer.from([192]), osc('/there/yes', ''), Buffer.from([192])])));
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  const link = new MappedOscLink({ profile, map: profile.link!, host: '127.0.0.1', port, beat: 50, patience: 400 });
  await until(() => link.linked);
  const first = connection;
  first?.write(Buffer.alloc(1_000_000, 65));
  await until(() => connection !== first);
  await until(() => link.linked);
  await link.close();
  connection?.destroy();
  await new Promise<void>((resolve) => server.close(() => resolve()));
});
