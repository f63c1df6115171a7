import { act, fireEvent, screen, waitFor } from '@testing-library/react';

import { sceneRecall } from '@old-echo/core/contracts/restore';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { PreviewPane } from '../../src/recall/preview-pane';
import { api } from '../../src/store/api';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, fallSilent, follow, isOff, SCENE, show, tell } from '../show';

jest.setTimeout(30_000);

const now = withSettings(defaultState(quay), {
  'main.1/fader/level': 0,
  'in.1/fader/level': -20,
  'in.1/label/name': 'Wren vox',
});
const RECALL = sceneRecall(DESK.id, SCENE.id, ALL_EXCEPT_GLOBALS);
const STARTED = { id: '01RESTORE00000000000000000' };

let server: FakeServer;

/** Shows the preview of a scene that holds some settings, to a desk. */
async function preview(to: SettingsByAddress, desk: Partial<typeof DESK> = {}) {
  server = new FakeServer({
    profile: profileJson('quay-48'),
    scene: SCENE,
    sceneState: withSettings(now, to),
    productions: [],
    accepted: [],
    stems: [],
    startRestore: STARTED,
  });
  router.navigate.mockClear();
  follow({ ...DESK, ...desk }, now);
  const shown = show(<PreviewPane recall={RECALL} />);
  await screen.findByText('Preview · 14 Static balance');
  return shown;
}
const QUIET = { 'in.3/pan/position': 10, 'in.4/pan/position': -10 };
/** Far above what the room has heard: it is a *stop*. */
const LOUD = { 'in.1/fader/level': 10 };

const button = (name: string | RegExp) => screen.getByRole('button', { name });
/** Holds the button at the foot with the keyboard for so long, in ms. */
function hold(ms: number): void {
  const held = button(/: hold$/);
  jest.useFakeTimers({ doNotFake: ['queueMicrotask'] });
  act(() => void fireEvent.keyDown(held, { key: 'Enter' }));
  act(() => jest.advanceTimersByTime(ms));
  act(() => void fireEvent.keyUp(held, { key: 'Enter' }));
  jest.useRealTimers();
}

test('nothing is said to be answered before it is known what was accepted between the two scenes', async () => {
  const asking = () => screen.queryByRole('button', { name: /to answer/ });
  const shown = await preview(LOUD, { mode: 'live', scene: { ...SCENE, binned: false, isUndoable: false } });
  expect(asking()).not.toBeNull();
  shown.unmount();
  let arrive: () => void = () => undefined;
  const later = new Promise<readonly unknown[]>((resolve) => (arrive = () => resolve([])));
  server.change({ accepted: () => later });
  store.dispatch(api.util.resetApiState());
  show(<PreviewPane recall={RECALL} />);
  await waitFor(() => expect(server.asked.filter(({ name }) => name === 'accepted')).toHaveLength(2));
  await act(() => new Promise((resolve) => setTimeout(resolve, 200)));
  expect(asking()).toBeNull();
  arrive();
  await waitFor(() => expect(asking()).not.toBeNull());
});

describe('in the studio', () => {
  test('one touch sends what was looked at, once, and leads to the restore', async () => {
    await preview(QUIET);
    fireEvent.click(button('Restore 2 settings'));
    await waitFor(() => expect(router.navigate).toHaveBeenCalledWith(`/desk/${DESK.id}/restores/${STARTED.id}`));
    expect(server.sentTo('startRestore')).toEqual([
      expect.objectContaining({ recall: RECALL, fade: 0, curve: 'even', answers: [] }),
    ]);
    expect((server.sentTo('startRestore')[0] as { fingerprint: string }).fingerprint).toMatch(/^[0-9a-f]{64}$/);
  });

  test('what the desk holds already is no restore', async () => {
    await preview({});
    expect(isOff(button('Nothing to restore'))).toBe(true);
  });

  test('a refusal is said in its words; nothing is left, and it can be tried again', async () => {
    await preview(QUIET);
    server.change({ startRestore: new Fault('desk-busy', 'Tam is restoring 3 Reel.', 'Wait, then try again.') });
    fireEvent.click(button('Restore 2 settings'));
    expect(await screen.findByText('Tam is restoring 3 Reel.')).toBeTruthy();
    expect(screen.getByText('Wait, then try again.')).toBeTruthy();
    expect(router.navigate).not.toHaveBeenCalled();
    expect(isOff(button('Restore 2 settings'))).toBe(false);
  });

  test('a server that does not answer is said as well', async () => {
    await preview(QUIET);
    server.change({ startRestore: undefined });
    fireEvent.click(button('Restore 2 settings'));
    expect(await screen.findByText('Can’t reach the server.')).toBeTruthy();
    expect(router.navigate).not.toHaveBeenCalled();
  });
});

describe('nothing can be sent', () => {
  test('while the show is locked', async () => {
    await preview(QUIET, { showLock: true });
    expect(isOff(button('The show is locked'))).toBe(true);
    tell({ type: 'desk', desk: DESK });
    expect(isOff(button('Restore 2 settings'))).toBe(false);
  });

  test('to a desk that does not answer; what moved on it meanwhile is looked at first', async () => {
    await preview(QUIET);
    tell({ type: 'desk', desk: { ...DESK, link: { state: 'unlinked', why: 'Quay 48 stopped answering.' } } });
    expect(isOff(button('Quay 48 does not answer'))).toBe(true);
  });

  test('while the server is not heard', async () => {
    await preview(QUIET);
    fallSilent();
    expect(isOff(button('Quay 48 does not answer'))).toBe(true);
  });

  test('prepared before the desk answered, until what moved since was looked at', async () => {
    await preview(QUIET, { link: { state: 'unlinked', why: 'Quay 48 stopped answering.' } });
    tell({ type: 'settings-changed', settings: { 'in.3/pan/position': 10 } });
    tell({ type: 'desk', desk: DESK });
    expect(
      await screen.findByText(/is connected again\. Since it was last read: 1 change no longer needed\./),
    ).toBeTruthy();
    expect(isOff(button('Look at what moved first'))).toBe(true);
    fireEvent.click(button('OK'));
    expect(isOff(button('Restore 1 setting'))).toBe(false);
  });
});

describe('live', () => {
  const live = { mode: 'live' } as const;

  test('a touch does nothing; only a hold sends, and one hold sends once', async () => {
    await preview(QUIET, live);
    fireEvent.click(button(/^Hold to restore 2 settings/));
    hold(300);
    expect(server.sentTo('startRestore')).toEqual([]);
    hold(2000);
    await waitFor(() => expect(server.sentTo('startRestore')).toHaveLength(1));
  });

  test('with a stop open there is nothing to hold; checked, there is, and the answer goes along', async () => {
    await preview(LOUD, live);
    expect(isOff(button(/1 caution to answer/))).toBe(true);
    fireEvent.click(button('I have checked'));
    expect(screen.getByText('Checked')).toBeTruthy();
    hold(1000);
    await waitFor(() => expect(server.sentTo('startRestore')).toHaveLength(1));
    const [sent] = server.sentTo('startRestore') as [{ answers: { way: string; points: { about: string }[] }[] }];
    expect(sent.answers.map(({ way }) => way)).toEqual(['checked']);
    expect(sent.answers[0]!.points.every(({ about }) => about.includes('in.1'))).toBe(true);
  });

  test('an answer can be taken back, and is asked for again', async () => {
    await preview(LOUD, live);
    fireEvent.click(button('I have checked'));
    fireEvent.click(button('Undo answer'));
    expect(isOff(button(/1 caution to answer/))).toBe(true);
  });

  test('a fade is an answer for as long as it lasts', async () => {
    await preview(LOUD, live);
    fireEvent.click(button('Fade over 3 s'));
    expect(screen.getByText('Fades over 3 s')).toBeTruthy();
    hold(1000);
    await waitFor(() => expect(server.sentTo('startRestore')).toEqual([expect.objectContaining({ fade: 3 })]));
  });

  test('what is left out needs no answer, and can be taken in again', async () => {
    await preview({ ...LOUD, ...QUIET }, live);
    fireEvent.click(button('Leave out'));
    expect(await screen.findByText('1 setting left out')).toBeTruthy();
    expect(button(/^Hold to restore 2 settings/)).toBeTruthy();
    fireEvent.click(button('Include again'));
    expect(button(/1 caution to answer/)).toBeTruthy();
  });

  test('a hand that rides the fader on does not ask again for what was checked', async () => {
    await preview(LOUD, live);
    fireEvent.click(button('I have checked'));
    tell({ type: 'settings-changed', settings: { 'in.1/fader/level': -19 } });
    await waitFor(() => expect(screen.queryByText(/caution to answer/)).toBeNull());
    expect(button(/^Hold to restore 1 setting/)).toBeTruthy();
  });
});
