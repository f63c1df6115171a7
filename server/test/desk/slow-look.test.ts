import { valueAt } from '@old-echo/core/desk/state';
import { OscLink } from '@old-echo/desk-link/osc-link';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { DeskServer } from '@old-echo/stand-in/front';
import { skiff } from '@old-echo/testing/profiles';

import { DeskMirror } from '../../src/desk/desk-mirror';
import { until } from '../server-rig';

const ADDRESSES = ['in.1/fader/level', 'in.9/eq/low/gain', 'main.1/fader/level'];

let front: DeskServer;
let mirror: DeskMirror;
afterEach(async () => {
  await mirror.close();
  await front.close();
});

async function open(lookEvery: number | undefined): Promise<void> {
  front = new DeskServer(new SimulatedDesk(skiff));
  const port = await front.open(0);
  const link = new OscLink({ profile: skiff, host: '127.0.0.1', port, beat: 50, patience: 2000 });
  mirror = new DeskMirror('desk', link, {}, lookEvery);
  await until(() => mirror.linkStatus.state === 'linked');
}

/** Moves what nobody tells of, as a desk does that has lost a packet for good. */
const silently = () => ADDRESSES.forEach((address) => front.desk.move(address, -11));
const known = () => ADDRESSES.map((address) => valueAt(mirror.state, address));

test('what the desk never told of is found, on every strip, and listeners are told', async () => {
  await open(5);
  const told: string[] = [];
  mirror.listen((event) => {
    if (event.type === 'settings-changed') told.push(...Object.keys(event.settings));
  });
  silently();
  await until(() => known().every((value) => value === -11));
  expect(told.sort()).toEqual([...ADDRESSES].sort());
});

test('a strip at a time: a whole desk takes a minute', async () => {
  await open(undefined);
  const asked = jest.spyOn(mirror.wire, 'read');
  silently();
  await new Promise((resolve) => setTimeout(resolve, 300));
  // Two seconds for one of its strips.
  expect(asked.mock.calls.length).toBeLessThanOrEqual(1);
  expect(mirror.wire.profile.strips.length).toBeGreaterThan(20);
});
