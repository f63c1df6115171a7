import { fireEvent, screen, waitFor, within } from '@testing-library/react';

import type { NewStagedSettings } from '@old-echo/core/contracts/preset';
import type { RenderRequest } from '@old-echo/core/contracts/sound';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { TogetherScreen } from '../../src/desk/batch-edit-screen';
import { chosen } from '../../src/store/selection-slice';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, isOff, PRODUCTION, SCENE, show } from '../show';
import { stem } from '../stem';

jest.setTimeout(60_000);
router.params = { desk: '01DESK00000000000000000000' };

const LEVELS = { 'in.1/fader/level': -20, 'in.2/fader/level': 8, 'in.3/fader/level': -90 };

let server: FakeServer;
async function editing(strips: readonly string[], settings: SettingsByAddress = LEVELS, answers = {}) {
  router.navigate.mockClear();
  server = new FakeServer({
    profile: profileJson('quay-48'),
    stageSettings: (body: NewStagedSettings) => ({ ...body, id: '01STAGED000000000000000000' }),
    ...answers,
  });
  follow(
    { ...DESK, mode: 'live', scene: { ...SCENE, binned: false, isUndoable: false } },
    withSettings(defaultState(quay), settings),
  );
  store.dispatch(chosen([...strips]));
  show(<TogetherScreen />);
  await screen.findByText('Edit selected strips');
}
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }));
const staged = () => server.sentTo('stageSettings') as NewStagedSettings[];

test('by a step: each from where it is, inside its range, and a fader that is off stays off', async () => {
  await editing(['in.1', 'in.2', 'in.3']);
  for (let i = 0; i < 3; i++) press('+1');
  press('Preview 2 strips');
  await waitFor(() => expect(staged()).toHaveLength(1));
  expect(staged()[0]?.settings).toEqual({ 'in.1/fader/level': -17, 'in.2/fader/level': 10 });
  expect(screen.getByText('; those that are off, or there already, stay.')).toBeTruthy();
});

test('a fine step is the step of the control itself', async () => {
  await editing(['in.1']);
  press('+');
  press('+');
  press('−');
  expect(screen.getByTestId('step').textContent).toBe('+0.1 dB');
});

test('the preview opens; nothing was sent to the desk', async () => {
  await editing(['in.1', 'in.2']);
  press('−1');
  press('Preview 2 strips');
  await waitFor(() =>
    expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining('01STAGED000000000000000000')),
  );
  expect(server.sentTo('moveSettings')).toEqual([]);
  expect(staged()[0]).toMatchObject({ deskId: DESK.id, title: 'Fader of 2 strips', appliedPresets: [] });
});

test('before and after are heard before anything is sent, in the song that the desk is on', async () => {
  await editing(['in.1', 'in.2'], LEVELS, {
    productions: [PRODUCTION],
    stems: [stem('in.1')],
    startRender: new Fault('unavailable', 'Too much at once.', 'Try again.'),
  });
  // Without a change there is nothing to hear.
  expect(screen.queryByText(/^Hear it first/)).toBeNull();
  press('−1');
  fireEvent.click(await screen.findByRole('button', { name: /^Hear it first/ }));
  await waitFor(() => expect(server.sentTo('startRender')).toHaveLength(2));
  const renders = server.sentTo('startRender') as RenderRequest[];
  for (const one of renders) expect(one).toMatchObject({ productionId: PRODUCTION.id, deskId: DESK.id });
  expect(renders.map(({ settings }) => settings)).toEqual([{}, { 'in.1/fader/level': -21, 'in.2/fader/level': 7 }]);
  expect([server.sentTo('moveSettings'), staged()]).toEqual([[], []]);
});

test('both halves of a linked pair move, also where one was selected', async () => {
  await editing(['in.5'], {
    'in.5/source/link': true,
    'in.5/fader/level': -10,
    'in.6/fader/level': -10,
  });
  press('−1');
  press(/^Preview/);
  await waitFor(() => expect(staged()).toHaveLength(1));
  expect(staged()[0]?.settings).toEqual({ 'in.5/fader/level': -11, 'in.6/fader/level': -11 });
});

test('another setting begins from nothing', async () => {
  await editing(['in.1', 'in.2']);
  press('+1');
  fireEvent.click(screen.getByRole('tab', { name: 'Mute' }));
  fireEvent.click(within(await screen.findByRole('dialog')).getByRole('radio', { name: /Mute/ }));
  expect(isOff(await screen.findByRole('button', { name: 'No change yet' }))).toBe(true);
});

test('a refusal is said, and what was set stands', async () => {
  await editing(['in.1', 'in.2']);
  server.change({ stageSettings: new Fault('refused-input', 'That is too much at once.', 'Choose fewer strips.') });
  press('+1');
  press('Preview 2 strips');
  await waitFor(() => expect(store.getState().notice.text).toBe('That is too much at once. Choose fewer strips.'));
  expect(screen.getByTestId('step').textContent).toBe('+1 dB');
  expect(router.navigate).not.toHaveBeenCalled();
});

test('without a selection it says how to make one', async () => {
  await editing([]);
  expect(screen.getByText('On the desk, press and hold a strip to select it.')).toBeTruthy();
});
