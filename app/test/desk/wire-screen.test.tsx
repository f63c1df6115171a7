import { fireEvent, screen, waitFor } from '@testing-library/react';

import { loggedMessage } from '@old-echo/testing/logged-message';
import { profileJson } from '@old-echo/testing/profiles';

import { WireScreen } from '../../src/desk/wire-screen';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, show } from '../show';

const MOVED = loggedMessage('from the desk', '/in.7/fader/level', {
  packet: 2,
  types: 'f',
  args: [-12],
  settings: [{ setting: 'in.7/fader/level', value: -12 }],
});
const MESSAGES = [
  loggedMessage('to the desk', '/link/ping', { packet: 1, types: 'i', args: [4] }),
  MOVED,
  loggedMessage('from the desk', '/lamp', { packet: 3, types: 'i', args: [1] }),
];

async function monitor(wire: unknown = { last: 3, messages: MESSAGES }) {
  router.params = { desk: DESK.id };
  const server = new FakeServer({ desks: [DESK], profile: profileJson(DESK.profileId), wire });
  show(<WireScreen />);
  await screen.findByText('On the wire');
  return server;
}
const addresses = () => screen.getAllByText(/^\//).map((one) => one.textContent);

test('what changes is shown as it went and as what it means, and what nobody knows', async () => {
  await monitor();
  expect(addresses()).toEqual(['/in.7/fader/level -12', '/lamp 1']);
  expect(screen.getByText('Input 7 Fader −12.0 dB')).toBeTruthy();
  expect(screen.getByText('Not one of its settings')).toBeTruthy();
});

test('every message is there too, and a word finds one by what it means', async () => {
  await monitor();
  fireEvent.click(screen.getByRole('tab', { name: 'Every message' }));
  expect(addresses()).toHaveLength(3);
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'input 7' } });
  expect(addresses()).toEqual(['/in.7/fader/level -12']);
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'nothing like it' } });
  expect(screen.getByText('No such message')).toBeTruthy();
});

test('paused, nothing more is asked for; going on, it asks for what came since', async () => {
  const asked: string[] = [];
  let turn = 0;
  await monitor((_: unknown, path: string) => {
    asked.push(path);
    turn++;
    return turn === 1 ? { last: 3, messages: MESSAGES } : { last: 3, messages: [] };
  });
  fireEvent.click(screen.getByRole('button', { name: 'Pause' }));
  const before = asked.length;
  await new Promise((resolve) => setTimeout(resolve, 1300));
  expect(asked).toHaveLength(before);
  fireEvent.click(screen.getByRole('button', { name: 'Go on' }));
  await waitFor(() => expect(asked.length).toBeGreaterThan(before));
  expect(addresses()).toHaveLength(2);
});

test('with nothing on the wire it says what to do', async () => {
  await monitor({ last: 0, messages: [] });
  expect(await screen.findByText('Nothing has changed yet')).toBeTruthy();
});
