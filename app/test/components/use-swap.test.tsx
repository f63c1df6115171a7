import { act, renderHook, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { type RestoreView, sceneRecall } from '@old-echo/core/contracts/restore';
import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { quay } from '@old-echo/testing/profiles';

import { useSwap } from '../../src/components/use-swap';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, InApp, SCENE, tell } from '../show';

const OTHER = {
  id: '01OTHER0000000000000000000',
  number: 15,
  name: 'Flip side',
  wayBack: null,
  scope: ALL_EXCEPT_GLOBALS,
};
const desk: DeskView = { ...DESK, swap: OTHER };
const restore: RestoreView = {
  id: '01RESTORE00000000000000000',
  deskId: DESK.id,
  sceneId: OTHER.id,
  sceneName: OTHER.name,
  sceneNumber: OTHER.number,
  status: 'running',
  recall: sceneRecall(DESK.id, OTHER.id, ALL_EXCEPT_GLOBALS),
  fade: 0,
  curve: 'even',
  by: '',
  answered: [],
  changes: 1,
  wayBack: { sceneId: '01BACK00000000000000000000', scope: ALL_EXCEPT_GLOBALS },
  progress: null,
  marks: null,
  report: null,
  startedAt: '2026-11-25T20:00:00.000Z',
  endedAt: null,
};
const report = { confirmed: 1, unconfirmed: [], handled: [], leftMuted: [], milliseconds: 320 };

let server: FakeServer;
const swapping = (on: DeskView | undefined, answers: Record<string, unknown> = {}) => {
  router.navigate.mockClear();
  server = new FakeServer({ swap: { ...restore, to: OTHER }, editDesk: desk, ...answers });
  if (on) follow(on, defaultState(quay));
  const { result } = renderHook(() => useSwap(on), { wrapper: InApp });
  return (...to: Parameters<typeof result.current>) => act(() => result.current(...to));
};
const notice = () => store.getState().notice.text;

describe('in the studio', () => {
  test('it is done at once, and said once it is confirmed', async () => {
    swapping(desk)();
    await waitFor(() => expect(server.sentTo('swap')).toHaveLength(1));
    await act(() => Promise.resolve());
    tell({ type: 'restore', restore: { ...restore, status: 'confirmed', report } });
    await waitFor(() => expect(notice()).toBe('Swapped to 15 Flip side. 1 setting confirmed in 320 ms.'));
    expect(router.navigate).not.toHaveBeenCalled();
  });

  test('one touched before the page heard where it leads since is said as what it was', async () => {
    const left = { ...OTHER, id: SCENE.id, wayBack: { number: 16, name: 'Back side', moved: 2 } };
    const back = { ...restore, sceneId: left.id, sceneName: 'Before 15 Flip side', sceneNumber: 0 };
    swapping(desk, { swap: { ...back, to: left } })();
    await waitFor(() => expect(server.sentTo('swap')).toHaveLength(1));
    await act(() => Promise.resolve());
    tell({ type: 'restore', restore: { ...back, status: 'confirmed', report } });
    await waitFor(() =>
      expect(notice()).toBe('Swapped to 16 Back side, 2 settings moved. 1 setting confirmed in 320 ms.'),
    );
  });

  test.each<RestoreView['status']>(['incomplete', 'cancelled', 'rolled back'])(
    'one that ends as %s leads to its report',
    async (status) => {
      swapping(desk)();
      await waitFor(() => expect(server.sentTo('swap')).toHaveLength(1));
      tell({ type: 'restore', restore: { ...restore, status, report } });
      await waitFor(() =>
        expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining(`restores/${restore.id}`)),
      );
    },
  );

  test('where something has to be answered, its preview opens', async () => {
    swapping(desk, { swap: new Fault('unanswered', 'Something has to be answered.', 'Look at it.') })();
    await waitFor(() => expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining(OTHER.id)));
  });

  test('where something has to be answered once the one before has ended, the preview is of the side that is the other by then', async () => {
    const swap = swapping(desk);
    swap();
    swap();
    await waitFor(() => expect(server.sentTo('swap')).toHaveLength(1));
    server.change({ swap: new Fault('unanswered', 'Something has to be answered.', 'Look at it.') });
    tell({ type: 'desk', desk: { ...desk, swap: { ...OTHER, id: SCENE.id } } });
    tell({ type: 'restore', restore: { ...restore, status: 'confirmed', report } });
    await waitFor(() => expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining(SCENE.id)));
    expect(router.navigate).not.toHaveBeenCalledWith(expect.stringContaining(OTHER.id));
  });

  test('a refusal is said, with what to do', async () => {
    swapping(desk, { swap: new Fault('desk-busy', 'Wren is restoring 3 Opener.', 'Wait until she is done.') })();
    await waitFor(() => expect(notice()).toBe('Wren is restoring 3 Opener. Wait until she is done.'));
    expect(router.navigate).not.toHaveBeenCalled();
  });

  test('a scene that is chosen becomes the one to swap to before anything is sent', async () => {
    swapping(desk)({ ...SCENE, scope: null });
    await waitFor(() => expect(server.sentTo('swap')).toHaveLength(1));
    expect(server.asked.map(({ name }) => name).slice(0, 2)).toEqual(['editDesk', 'swap']);
    expect(server.sentTo('editDesk')).toEqual([{ swapTo: SCENE.id }]);
  });

  test('where it cannot become that, nothing is sent', async () => {
    swapping(desk, { editDesk: new Fault('not-found', 'This scene no longer exists.', 'Choose another.') })({
      ...SCENE,
      scope: null,
    });
    await waitFor(() => expect(notice()).toBe('This scene no longer exists. Choose another.'));
    expect(server.sentTo('swap')).toEqual([]);
  });
});

describe('nothing is sent', () => {
  test('at a show: its preview opens, to be held', () => {
    swapping({ ...desk, mode: 'live' })();
    expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining(OTHER.id));
    expect(server.asked).toEqual([]);
  });

  test.each([
    ['where there is nothing to swap to', { ...DESK, swap: null }],
    ['while the desk is not known', undefined],
  ])('%s, and how to get there is said', async (_, on) => {
    swapping(on)();
    await waitFor(() => expect(notice()).toMatch(/^Nothing to swap with yet/));
    expect(server.asked).toEqual([]);
  });
});
