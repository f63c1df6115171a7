import { act, fireEvent, renderHook, screen, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { Provider } from 'react-redux';

import { defaultState, valueAt, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { HeldMoveSheet } from '../../src/desk/held-move-sheet';
import { useMoveSetting } from '../../src/desk/use-move-setting';
import { deskApi } from '../../src/store/desk-api';
import { chosen } from '../../src/store/selection-slice';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, show } from '../show';

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
  // A clock that hardly moves between two looks at it.
  let clock = 1_000_000;
  jest.spyOn(performance, 'now').mockImplementation(() => (clock += 0.001));
  for (const value of [-19, -18, -17]) move(value, false);
  clock += 60;
  move(-16, false);
  move(-15.5, true);
  await waitFor(() => expect(server.sentTo('moveSettings')).toHaveLength(3));
  expect(server.sentTo('moveSettings')).toMatchObject(
    [-19, -16, -15.5].map((value) => ({ settings: { [FADER]: value } })),
  );
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

describe('a control of one of several selected strips', () => {
  const OTHER = 'in.2/fader/level';
  async function together(answer: unknown, how: 'together' | 'alone' = 'together') {
    server = new FakeServer({ moveSettings: answer, profile: profileJson('quay-48') });
    follow(DESK, withSettings(defaultState(quay), { [FADER]: -20, [OTHER]: -12 }));
    await act(() => store.dispatch(deskApi.endpoints.profile.initiate('quay-48')));
    act(() => void store.dispatch(chosen(['in.1', 'in.2'])));
    const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
    const { result } = renderHook(() => useMoveSetting(DESK.id, how), { wrapper });
    return (address: string, value: number, done: boolean, from: number) =>
      act(() => result.current(address, value, done, from));
  }
  const both = () => [FADER, OTHER].map((address) => valueAt(store.getState().live.state ?? {}, address));

  test('takes none along where a person says how that one strip stands', async () => {
    const move = await together(TAKEN, 'alone');
    move(FADER, -25, true, -20);
    expect(both()).toEqual([-25, -12]);
    await waitFor(() => expect(server.sentTo('moveSettings')).toMatchObject([{ settings: { [FADER]: -25 } }]));
  });

  test('takes the others along by the same step, counted from where the drag began; all of it is undone at one touch', async () => {
    const move = await together(TAKEN);
    move(FADER, -25, false, -20);
    move(FADER, -23, true, -25);
    expect(both()).toEqual([-23, -15]);
    await waitFor(() => expect(notice()).toBe('2 strips moved together.'));
    expect(server.sentTo('moveSettings').at(-1)).toMatchObject({ settings: { [FADER]: -23, [OTHER]: -15 } });
    expect(store.getState().notice.undo?.body).toEqual({ settings: { [FADER]: -20, [OTHER]: -12 } });
  });

  test('goes back with all of them where the desk refuses it', async () => {
    const move = await together(new Fault('link-lost', 'The desk does not answer.', 'Look at its cable.'));
    move(FADER, -23, true, -20);
    await waitFor(() => expect(both()).toEqual([-20, -12]));
  });

  test('leaves them alone where its own strip is not selected', async () => {
    const move = await together(TAKEN);
    move('in.3/fader/level', -23, true, -20);
    await waitFor(() => expect(server.sentTo('moveSettings')).toHaveLength(1));
    expect(server.sentTo('moveSettings')[0]).toMatchObject({ settings: { 'in.3/fader/level': -23 } });
    expect(both()).toEqual([-20, -12]);
  });
});

describe('in live mode', () => {
  const LIVE = { ...DESK, mode: 'live' as const };
  const open = withSettings(defaultState(quay), { [FADER]: -20, 'main.1/fader/level': 0 });

  async function live() {
    server = new FakeServer({ moveSettings: TAKEN, profile: profileJson('quay-48'), desks: [LIVE], productions: [] });
    router.params = { desk: DESK.id };
    follow(LIVE, open);
    await act(() => store.dispatch(deskApi.endpoints.profile.initiate('quay-48')));
    show(<HeldMoveSheet />);
    const wrapper = ({ children }: { children: ReactNode }) => <Provider store={store}>{children}</Provider>;
    const { result } = renderHook(() => useMoveSetting(DESK.id), { wrapper });
    return (value: number, done: boolean, from = -20) => act(() => result.current(FADER, value, done, from));
  }
  const levels = () =>
    server.sentTo('moveSettings').map((body) => (body as { settings: Record<string, number> }).settings[FADER]);

  test('what gets much louder is not sent while it is dragged; at the end a hold is asked for, and sends it', async () => {
    const move = await live();
    move(-17, false);
    move(-2, false);
    move(0, true);
    await waitFor(() => expect(levels()).toEqual([-17]));
    const button = await screen.findByRole('button', { name: 'Hold to move: hold' });
    expect(screen.getAllByText(/louder/).length).toBeGreaterThan(0);
    fireEvent.keyDown(button, { key: 'Enter' });
    await waitFor(() => expect(levels()).toEqual([-17, 0]), { timeout: 5000 });
    expect(server.sentTo('moveSettings').at(-1)).toMatchObject({ confirmed: [expect.stringMatching(/^louder\//)] });
    expect(onScreen()).toBe(0);
  });

  test('small steps are one drag until it is let go, however long it takes; the next one is another', async () => {
    const move = await live();
    const clock = performance.now.bind(performance);
    let ahead = 0;
    jest.spyOn(performance, 'now').mockImplementation(() => clock() + ahead);
    move(-17, false);
    ahead = 20_000;
    move(-13, true);
    fireEvent.click(await screen.findByRole('button', { name: 'Cancel' }));
    ahead = 40_000;
    move(-15, true, -17);
    await waitFor(() => expect(levels()).toEqual([-17, -15]));
    const [first, second] = server.sentTo('moveSettings').map((body) => (body as { gesture: string }).gesture);
    expect(first).toMatch(/.+/);
    expect(second).not.toBe(first);
  });

  test('given up, the control goes back to where it was sent last', async () => {
    const move = await live();
    move(-17, false);
    move(0, true);
    fireEvent.click(await screen.findByRole('button', { name: 'Cancel' }));
    expect(onScreen()).toBe(-17);
    await waitFor(() => expect(levels()).toEqual([-17]));
  });
});
