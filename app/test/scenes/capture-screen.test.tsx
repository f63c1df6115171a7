import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { CaptureScreen } from '../../src/scenes/capture-screen';
import { draftDone } from '../../src/store/draft-slice';
import { store } from '../../src/store/store';
import { type Answers, FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, isOff, PRODUCTION, SCENE, show, tell } from '../show';

jest.setTimeout(30_000);
router.params = { desk: '01DESK00000000000000000000' };
router.canGoBack.mockReturnValue(true);

const held = withSettings(defaultState(quay), { 'in.1/label/name': 'Wren vox', 'in.1/fader/level': -20 });
const ON: DeskView = {
  ...DESK,
  baseline: { revision: 3, line: '14 Static balance' },
  scene: { ...SCENE, binned: false, isUndoable: false },
};
const free = { name: 'Free', taken: null };
let server: FakeServer;

/** Shows the capture of a desk on which a hand has moved something since 14 Static balance. */
async function capture(
  moved: SettingsByAddress,
  { desk = ON, answers = {} }: { desk?: DeskView; answers?: Answers } = {},
) {
  server = new FakeServer({
    profile: profileJson('quay-48'),
    productions: [PRODUCTION],
    baseline: held,
    uniqueName: free,
    captureScene: { ...SCENE, number: 15, name: 'Free' },
    ...answers,
  });
  router.back.mockClear();
  store.dispatch(draftDone(`capture/${DESK.id}`));
  follow(desk, withSettings(held, moved));
  const shown = show(<CaptureScreen />);
  await screen.findByText('Capture scene');
  return shown;
}

const button = (name: string) => screen.getByRole('button', { name });
const name = () => screen.getByTestId<HTMLInputElement>('scene-name');
const pressed = async (title: string) => {
  await waitFor(() => expect(isOff(button(title))).toBe(false));
  fireEvent.click(button(title));
};
const sent = () => server.sentTo('captureScene') as readonly { name: string; note: string; tags: string[] }[];

test('one touch captures everything under a name that says what moved, and leads back', async () => {
  await capture({ 'in.1/fader/level': -12 });
  expect(await screen.findByText('1 setting on 1 strip since 14 Static balance')).toBeTruthy();
  await waitFor(() => expect(name().value).toBe('Free'));
  await pressed('Capture');
  await waitFor(() => expect(router.back).toHaveBeenCalledTimes(1));
  expect(sent()).toEqual([{ versionId: SCENE.versionId, name: 'Free', note: '', milestone: '', tags: [], by: '' }]);
  expect(store.getState().notice.text).toBe('Captured 15 Free. Every setting saved.');
});

test('what is typed goes along, tags each once, and is gone from the draft once it is captured', async () => {
  await capture({});
  fireEvent.change(name(), { target: { value: 'Doors' } });
  fireEvent.change(screen.getByLabelText('Note'), { target: { value: 'Louder horns' } });
  fireEvent.change(screen.getByLabelText(/^Tags/), { target: { value: 'doors, dry, doors' } });
  await pressed('Capture');
  await waitFor(() => expect(sent()).toEqual([expect.objectContaining({ name: 'Doors', note: 'Louder horns' })]));
  expect(sent()[0]!.tags).toEqual(['doors', 'dry']);
  await waitFor(() => expect(store.getState().drafts[`capture/${DESK.id}`]).toBeUndefined());
});

test('a refusal stands beside the button, and what was typed is kept', async () => {
  const busy = new Fault('desk-busy', 'Tam is restoring 3 Reel.', 'Wait until they are done, then try again.');
  await capture({}, { answers: { captureScene: busy } });
  fireEvent.change(name(), { target: { value: 'Doors' } });
  await pressed('Capture');
  expect((await screen.findByRole('alert')).textContent).toContain('Tam is restoring 3 Reel.');
  expect([name().value, router.back.mock.calls.length]).toEqual(['Doors', 0]);
  expect(store.getState().drafts[`capture/${DESK.id}`]).toMatchObject({ name: 'Doors' });
});

test('left and come back to, what was typed is there again', async () => {
  const { unmount } = await capture({});
  fireEvent.change(name(), { target: { value: 'Half typed' } });
  unmount();
  show(<CaptureScreen />);
  await waitFor(() => expect(name().value).toBe('Half typed'));
});

test('nothing is captured from a desk that does not answer, nor without a name', async () => {
  await capture({}, { desk: { ...ON, link: { state: 'unlinked', why: 'Quay 48 stopped answering.' } } });
  expect(isOff(button('Capture'))).toBe(true);
  tell({ type: 'desk', desk: ON });
  await waitFor(() => expect(isOff(button('Capture'))).toBe(false));
  fireEvent.change(name(), { target: { value: '   ' } });
  expect(screen.getByText('A scene needs a name.')).toBeTruthy();
  expect(isOff(button('Capture'))).toBe(true);
});

describe('under a name that a scene has already', () => {
  const taken = { id: SCENE.id, number: 14, name: 'Static balance', revision: 4, isProtected: false };
  const at = async (isProtected: boolean, desk = ON) => {
    await capture(
      {},
      {
        desk,
        answers: {
          uniqueName: { name: 'Static balance 2', taken: { ...taken, isProtected } },
          replaceScene: { ...SCENE, number: 15 },
        },
      },
    );
    fireEvent.change(name(), { target: { value: 'Static balance' } });
    await screen.findByText('14 Static balance has this name');
    expect(isOff(button('Capture'))).toBe(true);
  };

  test('it is replaced, as it was seen', async () => {
    await at(false);
    await pressed('Replace it');
    await waitFor(() =>
      expect(server.sentTo('replaceScene')).toEqual([expect.objectContaining({ sceneId: SCENE.id, revision: 4 })]),
    );
    expect(sent()).toEqual([]);
  });

  test('both are kept, the new one with a number behind it', async () => {
    await at(false);
    await pressed('Keep both');
    await waitFor(() => expect(sent()).toEqual([expect.objectContaining({ name: 'Static balance 2' })]));
  });

  test('a protected one is not replaced', async () => {
    await at(true);
    expect([isOff(button('Replace it')), isOff(button('Keep both'))]).toEqual([true, false]);
    expect(screen.getByText(/It is protected, so it cannot be replaced\./)).toBeTruthy();
  });

  test('none is replaced while the show is locked', async () => {
    await at(false, { ...ON, showLock: true });
    expect([isOff(button('Replace it')), isOff(button('Keep both'))]).toEqual([true, false]);
  });
});

test('captured into another song or show than the desk is on, it asks first, and can be led back', async () => {
  const other: ProductionView = {
    ...PRODUCTION,
    id: '01PROD00000000000000000002',
    name: 'Lanterns on the Quay',
    versions: [{ ...PRODUCTION.versions[0]!, id: '01VERS00000000000000000002', name: 'Ballad' }],
  };
  await capture({}, { answers: { productions: [PRODUCTION, other] } });
  fireEvent.click(screen.getByRole('tab', { name: 'Lanterns on the Quay · Ballad' }));
  await pressed('Capture');
  expect(await screen.findByText('Work on Lanterns on the Quay now?')).toBeTruthy();
  expect(sent()).toEqual([]);
  fireEvent.click(button('Choose a version of Night Ferry'));
  await pressed('Capture');
  await waitFor(() => expect(sent()).toEqual([expect.objectContaining({ versionId: SCENE.versionId })]));
});

test('on a desk without a song or show it says where to create one', async () => {
  await capture({}, { answers: { productions: [] } });
  expect(screen.getByText('Scenes are saved in one. Create one for Quay 48 first.')).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Capture' })).toBeNull();
});
