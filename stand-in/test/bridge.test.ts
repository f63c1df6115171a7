import { type ChildProcess, spawn } from 'node:child_process';
import { createSocket, type Socket } from 'node:dgram';
import { join } from 'node:path';

import { parseProfile } from '@old-echo/core/desk/profile';
import { linkConformance } from '@old-echo/desk-link/conformance';
import { OscLink } from '@old-echo/desk-link/osc-link';
import { weirSource } from '@old-echo/testing/profiles';

import { SimulatedDesk } from '../src/desk';
import { makeLine } from '../src/line';
import { WeirFront } from '../src/weir-front';

const BRIDGE = join(__dirname, '..', '..', 'docs', 'examples', 'bridge.mjs');
const KEPT = ['fader', 'mute', 'label'];

interface Source {
  families: { id: string; sections: Record<string, unknown> }[];
}

/** What the bridge carries of the desk behind it. */
const profile = (() => {
  const { families } = weirSource as Source;
  const inputs = families.find(({ id }) => id === 'in')!;
  const sections = Object.fromEntries(KEPT.map((section) => [section, inputs.sections[section]]));
  return parseProfile({ id: 'weir-faders', name: 'Weir faders', use: 'live', families: [{ ...inputs, sections }] });
})();

/** A line between Old Echo and the bridge, which loses and overtakes as one asks. */
class Between {
  private readonly inner: Socket = createSocket('udp4');
  private readonly outer: Socket = createSocket('udp4');
  private line = makeLine({ loss: 0, delay: 0, reorder: 0, seed: 1 });
  private from = { port: 0, address: '' };
  port = 0;

  async open(to: number): Promise<void> {
    this.outer.on('message', (bytes, from) => {
      this.from = from;
      this.line(() => this.inner.send(bytes, to, '127.0.0.1'));
    });
    this.inner.on('message', (bytes) => this.line(() => this.outer.send(bytes, this.from.port, this.from.address)));
    await Promise.all(
      [this.inner, this.outer].map((one) => new Promise<void>((done) => one.bind(0, '127.0.0.1', done))),
    );
    this.port = this.outer.address().port;
  }

  spoil(share: number): void {
    this.line = makeLine({ loss: share, delay: 0, reorder: share, seed: 7 });
  }

  async close(): Promise<void> {
    // What is on a detour still arrives.
    await new Promise((resolve) => setTimeout(resolve, 100));
    await Promise.all([this.inner, this.outer].map((one) => new Promise<void>((done) => one.close(() => done()))));
  }
}

/** Starts the bridge as its docs say, and returns its port. */
async function startBridge(deskPort: number): Promise<[ChildProcess, number]> {
  const bridge = spawn(process.execPath, [BRIDGE, '0', String(deskPort)], { stdio: ['ignore', 'pipe', 'inherit'] });
  const port = await new Promise<number>((resolve) =>
    bridge.stdout.on('data', (told: Buffer) => resolve(Number(/port (\d+)/.exec(told.toString())?.[1]))),
  );
  return [bridge, port];
}

linkConformance(
  'The bridge of the docs',
  async () => {
    const desk = new SimulatedDesk(parseProfile(weirSource));
    const front = new WeirFront(desk);
    const [bridge, port] = await startBridge(await front.open(0));
    const line = new Between();
    await line.open(port);
    return {
      profile,
      settings: () =>
        Object.fromEntries(
          Object.entries(desk.settings()).filter(([address]) => /^in\.\d+\/(fader|mute|label)\//.test(address)),
        ),
      hands: (moves) => void front.hands(moves),
      spoil: (share) => line.spoil(share),
      freeze: (frozen) => front.freeze(frozen),
      refuse: (addresses) => front.refuse(addresses),
      restart: () => Promise.resolve(),
      link: () => new OscLink({ profile, host: '127.0.0.1', port: line.port, beat: 50, patience: 600 }),
      close: async () => {
        bridge.kill();
        await line.close();
        await front.close();
      },
    };
  },
  { number: 'in.1/fader/level', step: 0.1, toggle: 'in.1/mute/on', text: 'in.1/label/name' },
  // The desk behind it numbers nothing, and refuses nothing aloud.
  { numbers: false, refusesAloud: false },
);
