import { createSocket } from 'node:dgram';

import fc from 'fast-check';

import { withSettings } from '@old-echo/core/desk/state';
import { encodeBundles, encodeMessage, float, int, text } from '@old-echo/desk-link/codec';
import type { LinkEvent } from '@old-echo/desk-link/link';
import { OscLink } from '@old-echo/desk-link/osc-link';
import * as protocol from '@old-echo/desk-link/protocol';
import { skiff } from '@old-echo/testing/profiles';
import { times } from '@old-echo/testing/runs';

import { SimulatedDesk } from '../src/desk';
import { DeskServer } from '../src/front';

const until = async (holds: () => boolean) => {
  for (const start = performance.now(); !holds();) {
    if (performance.now() - start > 30_000) throw new Error('not within 30 s');
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

  // Whatever a broken desk or a stranger says: neither side ends, stalls or believes it for good.
  describe('noise', () => {
    const number = fc.constantFrom(0, 1, -1, 255, 100_000, 3_000_000, 2_147_483_647, -2_147_483_648);
    const addresses = fc.constantFrom('/', `/${FADER}`, '/*', `/in.1/${'*'.repeat(30)}`, '/{in,fx}.[1-9]/*/*');
    const words = fc.oneof(addresses, fc.constantFrom('', 'x', '\u0000'));
    const arg = fc.oneof(number.map(int), fc.float().map(float), words.map(text));
    const message = fc.record({
      address: fc.oneof(
        fc.constantFrom(...Object.values(protocol).filter((word) => typeof word === 'string')),
        addresses,
      ),
      args: fc.array(arg, { maxLength: 4 }),
    });
    const bundle = fc
      .array(message, { minLength: 1, maxLength: 5 })
      .map((all) => encodeBundles(all)[0] ?? new Uint8Array());
    const bent = fc.tuple(bundle, fc.nat(), fc.nat(255)).map(([bytes, at, to]) => {
      const copy = Uint8Array.from(bytes);
      if (copy.length > 0) copy[at % copy.length] = to;
      return copy;
    });
    const cut = fc.tuple(bundle, fc.nat()).map(([bytes, at]) => bytes.subarray(0, at % (bytes.length + 1)));
    const packets = fc.array(fc.oneof(bundle, bent, cut, fc.uint8Array({ maxLength: 200 })), {
      minLength: 20,
      maxLength: 60,
    });
    const RUNS = times(10, 400);

    it('to the link, from its own desk: it reads the desk as it is, and hears its hands', async () => {
      await fc.assert(
        fc.asyncProperty(packets, fc.integer({ min: -60, max: -10 }), async (noise, level) => {
          for (const bytes of noise) front['socket']?.send(bytes, ownPort, '127.0.0.1');
          front.hands({ [FADER]: level });
          await new Promise((resolve) => setTimeout(resolve, 20));
          await until(() => link.linked);
          const state = await link.readAll();
          expect(withSettings({}, front.desk.settings())).toEqual(state);
        }),
        { numRuns: RUNS },
      );
    });

    it('to the desk: it answers the next question', async () => {
      const stranger = createSocket('udp4');
      try {
        await fc.assert(
          fc.asyncProperty(packets, async (noise) => {
            for (const bytes of noise)
              await new Promise<void>((resolve) => stranger.send(bytes, port, '127.0.0.1', () => resolve()));
            await until(() => link.linked);
            expect(await link.read([FADER])).toEqual({ [FADER]: front.desk.settings()[FADER] });
          }),
          { numRuns: RUNS },
        );
      } finally {
        stranger.close();
      }
    });
  });
});
