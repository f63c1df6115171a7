import { createSocket } from 'node:dgram';

import { broadcastOf } from '@old-echo/desk-link/broadcast-addresses';
import { encodeMessage, int, text } from '@old-echo/desk-link/codec';
import { findDesks } from '@old-echo/desk-link/find-desks';
import * as protocol from '@old-echo/desk-link/protocol';
import { quay, skiff } from '@old-echo/testing/profiles';

import { SimulatedDesk } from '../src/desk';
import { DeskServer } from '../src/front';

/** A port of its own, so that desks of other tests are not found. */
const PORT = 47_170;

// RFC 919 and 922: all bits of the host set.
test.each([
  ['127.0.0.1', '255.0.0.0', '127.255.255.255'],
  ['192.168.1.20', '255.255.255.0', '192.168.1.255'],
  ['10.1.2.3', '255.255.252.0', '10.1.3.255'],
  ['203.0.113.9', '255.255.255.255', '203.0.113.9'],
])('the address that reaches all of the network of %s under %s is %s', (address, netmask, all) => {
  expect(broadcastOf(address, netmask)).toBe(all);
});

test('desks on this computer are found where they are, also several, frozen ones and those that are off not', async () => {
  const fronts = [quay, skiff, skiff].map((profile) => new DeskServer(new SimulatedDesk(profile)));
  const ports = await Promise.all(fronts.map((front) => front.open(0)));
  await Promise.all(fronts.map((front) => front.beFound(PORT)));
  const at = (profile: typeof quay, port: number) => ({
    profileId: profile.id,
    name: profile.name,
    host: '127.0.0.1',
    port,
  });
  const byPort = (a: { port: number }, b: { port: number }) => a.port - b.port;
  expect((await findDesks(PORT)).toSorted(byPort)).toEqual(
    [at(quay, ports[0]!), at(skiff, ports[1]!), at(skiff, ports[2]!)].toSorted(byPort),
  );
  fronts[0]!.freeze(true);
  await fronts[1]!.close();
  expect(await findDesks(PORT)).toEqual([at(skiff, ports[2]!)]);
  // Nobody watches, and nothing has moved.
  expect(fronts[2]!.desk.settings()).toEqual(new SimulatedDesk(skiff).settings());
  await Promise.all([fronts[0]!.close(), fronts[2]!.close()]);
});

test('what answers with anything else than a greeting is no desk', async () => {
  const stranger = createSocket({ type: 'udp4', reuseAddr: true });
  await new Promise<void>((resolve) => stranger.bind(PORT + 1, '127.255.255.255', resolve));
  const mouth = createSocket('udp4');
  await new Promise<void>((resolve) => mouth.bind(0, '127.0.0.1', resolve));
  const answers = [
    Buffer.from('no OSC at all'),
    encodeMessage({ address: protocol.PONG, args: [int(1)] }),
    encodeMessage({ address: protocol.DESK, args: [] }),
    encodeMessage({ address: protocol.DESK, args: [text('x'.repeat(41)), text('Long'), int(1)] }),
    encodeMessage({ address: protocol.DESK, args: [text('model'), text('bell \u0007'), int(1)] }),
    encodeMessage({ address: protocol.DESK, args: [text('model'), text('Fine'), int(1)] }),
  ];
  stranger.on('message', (_, from) => answers.forEach((answer) => mouth.send(answer, from.port, from.address)));
  const found = await findDesks(PORT + 1);
  expect(found.map(({ name }) => name)).toEqual(['Fine']);
  await Promise.all([stranger, mouth].map((socket) => new Promise<void>((resolve) => socket.close(() => resolve()))));
});
