import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { diffStates, type SettingChange } from '@old-echo/core/desk/diff-states';
import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { quay } from '@old-echo/testing/profiles';

import { CurrentSceneCard } from '../../src/desk/current-scene-card';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, PRODUCTION, SCENE, show } from '../show';

const state = defaultState(quay);
const drifted = withSettings(state, { 'in.1/fader/level': -20 });
const DRIFT = diffStates(quay, state, drifted);
const ON: DeskView = {
  ...DESK,
  baseline: { revision: 3, line: '14 Static balance' },
  scene: { ...SCENE, binned: false, isUndoable: false },
};

let server: FakeServer;
function card(desk: DeskView, drift: readonly SettingChange[] | undefined, answers: Record<string, unknown> = {}) {
  router.navigate.mockClear();
  server = new FakeServer({ replaceScene: SCENE, undoReplacement: SCENE, startRestore: undefined, ...answers });
  follow(desk, drifted);
  show(
    <CurrentSceneCard
      now={{ desk, profile: quay, state: drifted, known: true, linked: desk.link.state === 'linked' }}
      drift={drift}
      onPress={() => undefined}
    />,
  );
}
const button = (name: string) => screen.queryByRole('button', { name });
const notice = () => store.getState().notice;

test('a desk that has drifted can be saved into the scene that stands, as it was seen, and that can be undone', async () => {
  card(ON, DRIFT);
  fireEvent.click(button('Save to 14')!);
  await waitFor(() => expect(notice().text).toBe('14 Static balance saved. The scene as it was is in the bin.'));
  expect(server.sentTo('replaceScene')).toEqual([{ sceneId: SCENE.id, revision: 1, by: '' }]);
  expect(notice().undo?.url).toBe(`/desks/${DESK.id}/scene-replacements/undo`);
});

test('where it cannot be saved there, it says why, and nothing else happens', async () => {
  card(ON, DRIFT, { replaceScene: new Fault('protected', '14 Static balance is protected.', 'Unprotect it first.') });
  fireEvent.click(button('Save to 14')!);
  await waitFor(() => expect(notice().text).toBe('14 Static balance is protected. Unprotect it first.'));
  expect(notice().undo).toBeUndefined();
});

test('all is put back at a touch in the studio, and over its preview at a show', async () => {
  card(ON, DRIFT);
  fireEvent.click(button('Put all back')!);
  await waitFor(() => expect(server.sentTo('startRestore')).toHaveLength(1));
  expect(server.sentTo('startRestore')[0]).toMatchObject({ fingerprint: null, recall: { baseline: true } });
  card({ ...ON, mode: 'live' }, DRIFT);
  fireEvent.click(screen.getAllByRole('button', { name: 'Put all back' }).at(-1)!);
  expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining('put-back'));
  expect(server.sentTo('startRestore')).toEqual([]);
});

test('without drift there is nothing to do but to undo a save', async () => {
  card(ON, []);
  expect([button('Save to 14'), button('Put all back'), button('Undo save')]).toEqual([null, null, null]);
  card({ ...ON, scene: { ...ON.scene!, isUndoable: true } }, []);
  fireEvent.click(button('Undo save')!);
  await waitFor(() => expect(server.sentTo('undoReplacement')).toHaveLength(1));
});

test.each<[string, DeskView]>([
  ['a scene in the bin', { ...ON, scene: { ...ON.scene!, binned: true } }],
  ['what was autosaved', { ...ON, scene: { ...ON.scene!, number: 0 } }],
])('nothing is saved into %s', (_, desk) => {
  card(desk, DRIFT);
  expect([button('Save to 14'), button('Save to 0')]).toEqual([null, null]);
  expect(button('Put all back')).not.toBeNull();
});

test('a desk that does not answer is neither saved nor put back', () => {
  card({ ...ON, link: { state: 'unlinked', why: 'Gone.' } }, DRIFT);
  expect([button('Save to 14'), button('Put all back')]).toEqual([null, null]);
});

test('the other side of the swap is told as people call it', () => {
  const swap = { id: SCENE.id, number: 0, name: 'Before 14 Static balance', scope: [] };
  card({ ...ON, swap: { ...swap, wayBack: { number: 9, name: 'Chorus', moved: 2 } } }, []);
  expect(screen.getByTestId('swap-to').textContent).toBe('Swap leads to 9 Chorus, 2 settings moved');
});

test('where the swap leads is chosen on the desk', async () => {
  const other = { ...SCENE, id: '01SCENE1111111111111111111', number: 9, name: 'Chorus' };
  card(ON, [], {
    productions: [PRODUCTION],
    scenes: { scenes: [SCENE, other], total: 2, more: false },
    editDesk: DESK,
  });
  const line = await screen.findByRole('button', { name: /Capture a second mix .* Choose another/ });
  await waitFor(() => expect(line.hasAttribute('disabled')).toBe(false));
  fireEvent.click(line);
  fireEvent.click(await screen.findByRole('radio', { name: /9 Chorus/ }));
  await waitFor(() => expect(server.sentTo('editDesk')).toEqual([{ swapTo: other.id }]));
  expect(screen.queryByRole('radio', { name: /14 Static balance/ })).toBeNull();
});

test('what is safe on every strip stays with a swap, and the card says so', () => {
  const swap = { id: 'x', number: 9, name: 'Chorus', wayBack: null, scope: [] };
  card({ ...ON, swap, safes: [{ strips: ['*'], sections: ['preamp'] }] }, []);
  expect(screen.getByTestId('swap-to').textContent).toBe('Swap leads to 9 Chorus; preamp safe');
});
