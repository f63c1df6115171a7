import { act, fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeviceView, EntryCode } from '@old-echo/core/contracts/device';
import { Fault } from '@old-echo/core/fault/fault';

import { DevicesScreen } from '../../src/people/devices-screen';
import { EntryScreen } from '../../src/people/entry-screen';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { isOff, show } from '../show';

const PHONE: DeviceView = {
  id: '01DEVCE0000000000000000000',
  name: 'Phone at front of house',
  madeAt: '2026-11-25T19:00:00.000Z',
  seenAt: '2026-11-25T20:14:00.000Z',
};
const HERE = { isIn: true, device: null, isOnNetwork: true };
const codeFor = (seconds: number): EntryCode => ({
  code: 'K7Q2M9XH4T',
  endsAt: new Date(new Date().getTime() + seconds * 1000).toISOString(),
  addresses: ['https://192.0.2.7:4651', 'https://198.51.100.3:4651'],
});
const button = (name: string | RegExp) => screen.getByRole('button', { name });
const press = (name: string | RegExp) => fireEvent.click(button(name));

beforeEach(() => {
  router.params = {};
});

test('at the machine all devices are there, and a code is shown in words and as a picture', async () => {
  const server = new FakeServer({ here: HERE, devices: [PHONE], makeEntryCode: codeFor(120), shutOut: PHONE });
  show(<DevicesScreen />);
  await screen.findByText('Phone at front of house');
  press('Let a phone in');
  expect((await screen.findByTestId('entry-code')).textContent).toBe('K7Q2M 9XH4T');
  expect(screen.getByText('https://192.0.2.7:4651')).toBeTruthy();
  expect(screen.getByText(/another network: https:\/\/198\.51\.100\.3:4651/)).toBeTruthy();
  expect(screen.getByRole('img', { name: 'https://192.0.2.7:4651/enter, code K7Q2M 9XH4T' })).toBeTruthy();
  expect(screen.getByText(/^Good for one phone, for another 1[12]\d s\.$/)).toBeTruthy();

  // Somebody comes in: it says who, and the code is gone.
  const newcomer = { ...PHONE, id: '01DEVCE0000000000000000001', name: 'Monitors', madeAt: new Date().toISOString() };
  server.change({ devices: [newcomer, PHONE] });
  await screen.findByText('Monitors is in.');
  expect(screen.queryByTestId('entry-code')).toBeNull();
  press('Close');
  expect(screen.queryByText('Monitors is in.')).toBeNull();
});

test('a code that is over says so, and another is made', async () => {
  const server = new FakeServer({ here: HERE, devices: [], makeEntryCode: codeFor(0) });
  show(<DevicesScreen />);
  await screen.findByText('No device is let in');
  press('Let a phone in');
  await screen.findByText('The two minutes are over.');
  server.change({ makeEntryCode: codeFor(60) });
  press('New code');
  await screen.findByTestId('entry-code');
  expect(server.sentTo('makeEntryCode')).toHaveLength(2);
});

test('where the network does not reach it, letting in says how that is changed', async () => {
  new FakeServer({ here: { ...HERE, isOnNetwork: false }, devices: [] });
  show(<DevicesScreen />);
  await screen.findByText('No device is let in');
  expect(isOff(button('Let a phone in'))).toBe(true);
});

test('a device sees what it was let in as, and asks for no list', async () => {
  const server = new FakeServer({ here: { ...HERE, device: PHONE } });
  show(<DevicesScreen />);
  await screen.findByText(/^This is Phone at front of house, let in /);
  expect(screen.queryByRole('button', { name: 'Let a phone in' })).toBeNull();
  expect(server.sentTo('devices')).toEqual([]);
});

test('a phone brings its code along, needs a name, and reads why it is not let in', async () => {
  router.params = { code: 'K7Q2M9XH4T' };
  const server = new FakeServer({
    enter: new Fault('not-let-in', 'This code lets nobody in.', 'Ask for another one.'),
  });
  show(<EntryScreen />);
  expect(screen.getByTestId<HTMLInputElement>('entry-code').value).toBe('K7Q2M9XH4T');
  expect(isOff(button('Go in'))).toBe(true);
  act(() => void fireEvent.change(screen.getByTestId('device-name'), { target: { value: ' Phone ' } }));
  press('Go in');
  await screen.findByText('This code lets nobody in.');
  expect(server.sentTo('enter')).toEqual([{ code: 'K7Q2M9XH4T', name: 'Phone' }]);
  server.change({ enter: PHONE });
  press('Go in');
  await waitFor(() => expect(server.sentTo('enter')).toHaveLength(2));
});
