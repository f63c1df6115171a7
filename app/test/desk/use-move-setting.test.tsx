import { act, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';

import { defaultState, valueAt, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { quay } from '@old-echo/testing/profiles';

import { useMoveSetting } from '../../src/desk/use-move-setting';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { DESK, follow } from '../show';

const FADER = 'in.1/fader/level';
let server: FakeServer;
function moving(answer: unknown) {
  server = new FakeServer({ moveSettings: answer });
  follow(DESK, withSettings(defaultState(quay), { [FADER]: -20 }));
  const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
  const { result } = renderHook(() => useMoveSetting(DESK.id), { wrapper });
  return (value: number, done: boolean, from = -20) => act(() => result.current(FADER, value, done, from));
}
const onScreen = () => valueAt(store.getState().live.state ?? {}, FADER);
const notice = () => store.getState().notice.text;
const TAKEN = { unconfirmed: [] };

afterEach(() => jest.restoreAllMocks());

test('a control moves on the screen at once, before the desk has answered', () => {
  moving(TAKEN)(-10, true);
  expect(onScreen()).toBe(-10);
});

test('while it is dragged, not every value is sent, but the last one for certain', async () => {
  const move = moving(TAKEN);
  const clock = jest.spyOn(Date, 'now').mockReturnValue(1_000_000);
  for (const value of [-19, -18, -17]) move(value, false);
  clock.mockReturnValue(1_000_060);
  move(-16, false);
  move(-15.5, true);
  await waitFor(() => expect(server.sentTo('moveSettings')).toHaveLength(3));
  expect(server.sentTo('moveSettings')).toEqual([-19, -16, -15.5].map((value) => ({ settings: { [FADER]: value } })));
  expect(onScreen()).toBe(-15.5);
});

test('where the desk refuses it, the screen goes back to where the drag began, and says why', async () => {
  const move = moving(new Fault('link-lost', 'The desk does not answer.', 'Look at its cable.'));
  move(-15, false);
  move(-10, true, -15);
  await waitFor(() => expect(onScreen()).toBe(-20));
  expect(notice()).toBe('The desk does not answer. Look at its cable.');
});

test('where the desk has something else afterwards, the screen shows that', async () => {
  moving({ unconfirmed: [{ address: FADER, wanted: -10, found: -12, why: 'A hand moved it.' }] })(-10, true);
  await waitFor(() => expect(onScreen()).toBe(-12));
  expect(notice()).toBe('A hand moved it.');
});

test('the next drag goes back to where it began itself, not to where the one before did', async () => {
  const move = moving(TAKEN);
  move(-10, true, -20);
  await waitFor(() => expect(server.sentTo('moveSettings')).toHaveLength(1));
  server.change({ moveSettings: new Fault('link-lost', 'The desk does not answer.', 'Look at its cable.') });
  move(-5, true, -10);
  await waitFor(() => expect(notice()).toMatch(/does not answer/));
  expect(onScreen()).toBe(-10);
});
