import { createSocket } from 'node:dgram';

import { encodeBundles, encodeMessage, float, int, text } from '@old-echo/desk-link/codec';
import type { LinkEvent } from '@old-echo/desk-link/link';
import { OscLink } from '@old-echo/desk-link/osc-link';
import * as protocol from '@old-echo/desk-link/protocol';
import { skiff } from '@old-echo/testing/profiles';

import { SimulatedDesk } from '../src/desk';
import { DeskServer } from '../src/front';

const until = async (holds: () => boolean) => {
  for (const start = Date.now(); !holds();) {
    if (Date.now() - start > 5000) throw new Error('not within 5 s');
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
};

const FADER = 'in.1/fader/level';
const push = (number: number, level: number) =>
  encodeBundles([{ address: `/${FADER}`, args: [float(level)] }], () => ({
    address: protocol.PUSH,
    args: [int(number)],
  }))[0] as Uint8Array;

describe('a link listens to its desk and to nobody else', () => {
  let front: DeskServer;
  let link: OscLink;
  let heard: LinkEvent[];
  let port: number;
  let ownPort: number;

  beforeEach(async () => {
    front = new DeskServer(new SimulatedDesk(skiff));
    port = await front.open(0);
    const asked: number[] = [];
    const receive = front['receive'].bind(front);
    front['receive'] = (bytes, from) => {
      asked.push(from.port);
      receive(bytes, from);
    };
    link = new OscLink({ profile: skiff, host: '127.0.0.1', port, beat: 50, patience: 600 });
    heard = [];
    link.listen((event) => heard.push(event));
    await until(() => link.linked);
    ownPort = asked[0] as number;
  });
  afterEach(async () => {
    await link.close();
    await front.close();
  });

  const afterwards = async () => {
    await link.caughtUp();
    return heard.filter((event) => event.type !== 'linked');
  };

  it('a packet from another port counts for nothing, whatever it says', async () => {
    const stranger = createSocket('udp4');
    const send = (bytes: Uint8Array) =>
      new Promise<void>((resolve) => stranger.send(bytes, ownPort, '127.0.0.1', () => resolve()));
    await send(push(1, -3));
    await send(push(2_147_483_647, -3));
    await send(encodeMessage({ address: protocol.PONG, args: [int(9), int(2_147_483_647), int(1)] }));
    await send(encodeMessage({ address: protocol.DESK, args: [text('another'), text('Another'), int(1)] }));
    await send(encodeMessage({ address: protocol.EXPIRED, args: [int(1), int(2_147_483_647)] }));
    await new Promise<void>((resolve) => stranger.close(() => resolve()));
    expect(await afterwards()).toEqual([]);
  });

  it('a desk that counts its changes beyond all measure is linked anew', async () => {
    const reply = (bytes: Uint8Array) => front['socket']?.send(bytes, ownPort, '127.0.0.1');
    reply(push(2_147_483_647, -3));
    await until(() => heard.some((event) => event.type === 'unlinked'));
    await until(() => link.linked);
    front.hands({ [FADER]: -7 });
    expect(await afterwards()).toContainEqual({ type: 'settings-changed', settings: { [FADER]: -7 } });
  });

  it('heads without their numbers count for nothing', async () => {
    const reply = (bytes: Uint8Array) => front['socket']?.send(bytes, ownPort, '127.0.0.1');
    for (const address of [protocol.PUSH, protocol.PONG, protocol.VALUES, protocol.EXPIRED, protocol.WATCHING])
      reply(encodeMessage({ address, args: [text('x'), text('y'), text('z')] }));
    front.hands({ [FADER]: -7 });
    const settings = { [FADER]: -7 };
    expect(await afterwards()).toEqual([
      { type: 'hands', settings },
      { type: 'settings-changed', settings },
    ]);
  });
});
