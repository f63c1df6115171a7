import { act, renderHook, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { type RestoreView, sceneRecall } from '@old-echo/core/contracts/restore';
import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { quay } from '@old-echo/testing/profiles';

import { useTouchRecall } from '../../src/components/restore-at-once';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, InApp, tell } from '../show';

const scene = (n: number) => `01SCENE000000000000000000${n}`;
const recallOf = (n: number) => sceneRecall(DESK.id, scene(n), ALL_EXCEPT_GLOBALS);
const restore = (n: number, more: Partial<RestoreView> = {}): RestoreView => ({
  id: `01RESTORE0000000000000000${n}`,
  deskId: DESK.id,
  sceneId: scene(n),
  sceneName: `Scene ${n}`,
  sceneNumber: n,
  status: 'running',
  recall: recallOf(n),
  fade: 0,
  curve: 'even',
  by: '',
  answered: [],
  changes: 2,
  wayBack: null,
  progress: null,
  marks: null,
  report: null,
  startedAt: '2026-11-25T20:00:00.000Z',
  endedAt: null,
  ...more,
});
const report = { confirmed: 2, unconfirmed: [], handled: [], leftMuted: [], milliseconds: 80 };
const confirmed = (n: number) => tell({ type: 'restore', restore: restore(n, { status: 'confirmed', report }) });

let server: FakeServer;
/** What is touched on a desk, by the number of its scene; the server begins to restore it unless something else is said. */
function touching(on: DeskView | undefined, answer?: unknown) {
  router.navigate.mockClear();
  server = new FakeServer({
    startRestore: answer ?? ((body: { recall: { sceneId: string } }) => restore(Number(body.recall.sceneId.at(-1)))),
  });
  if (on) follow(on, defaultState(quay));
  const { result } = renderHook(() => useTouchRecall(on), { wrapper: InApp });
  return (n: number) => act(() => void result.current(recallOf(n)));
}
const notice = () => store.getState().notice.text;
const sent = () =>
  server.sentTo('startRestore').map((body) => (body as { recall: { sceneId: string } }).recall.sceneId);

test('a touch restores at once in the studio, and what is confirmed is said', async () => {
  const touch = touching(DESK);
  touch(3);
  await waitFor(() => expect(sent()).toEqual([scene(3)]));
  expect(server.sentTo('startRestore')[0]).toMatchObject({ fingerprint: null, fade: 0, answers: [] });
  await act(() => Promise.resolve());
  confirmed(3);
  await waitFor(() => expect(notice()).toBe('3 Scene 3 restored. 2 settings confirmed in 80 ms.'));
  expect(router.navigate).not.toHaveBeenCalled();
});

test('what is touched after something that is refused is begun at once, and not by the touch after it', async () => {
  const refusal = new Fault('unanswered', 'It opens the PA.', 'Look at it first.');
  const touch = touching(DESK, (body: { recall: { sceneId: string } }) =>
    body.recall.sceneId === scene(1) ? refusal : restore(Number(body.recall.sceneId.at(-1))),
  );
  touch(1);
  touch(2);
  await waitFor(() => expect(sent()).toEqual([scene(1), scene(2)]));
  await act(() => Promise.resolve());
  confirmed(2);
  await waitFor(() => expect(notice()).toBe('2 Scene 2 restored. 2 settings confirmed in 80 ms.'));
  expect(router.navigate).not.toHaveBeenCalled();
  touch(3);
  await waitFor(() => expect(sent()).toEqual([scene(1), scene(2), scene(3)]));
});

test('what is touched meanwhile follows, of several the last', async () => {
  const touch = touching(DESK);
  touch(1);
  touch(2);
  touch(3);
  await waitFor(() => expect(sent()).toEqual([scene(1)]));
  await act(() => Promise.resolve());
  confirmed(1);
  await waitFor(() => expect(sent()).toEqual([scene(1), scene(3)]));
  await act(() => Promise.resolve());
  confirmed(3);
  await waitFor(() => expect(notice()).toBe('3 Scene 3 restored. 2 settings confirmed in 80 ms.'));
});

test('an end that the page did not hear of is asked for, and the next touch is taken', async () => {
  const touch = touching(DESK);
  server.change({ restore: restore(1, { status: 'confirmed', report }) });
  touch(1);
  await waitFor(() => expect(notice()).toBe('1 Scene 1 restored. 2 settings confirmed in 80 ms.'));
  touch(2);
  await waitFor(() => expect(sent()).toEqual([scene(1), scene(2)]));
});

test('one that does not end as it should leads to its report, and nothing follows', async () => {
  const touch = touching(DESK);
  touch(1);
  touch(2);
  await waitFor(() => expect(sent()).toEqual([scene(1)]));
  await act(() => Promise.resolve());
  tell({ type: 'restore', restore: restore(1, { status: 'incomplete', report }) });
  await waitFor(() => expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining(restore(1).id)));
  expect(sent()).toEqual([scene(1)]);
});

test('a stop opens the preview and says why; the next touch is taken', async () => {
  const touch = touching(DESK, new Fault('unanswered', 'Fiddle gets louder.', 'Nothing was sent.'));
  touch(4);
  await waitFor(() =>
    expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining(`restore/${scene(4)}/preview`)),
  );
  expect(notice()).toBe('Fiddle gets louder. Nothing was sent.');
  touch(5);
  await waitFor(() => expect(sent()).toEqual([scene(4), scene(5)]));
});

test.each<[string, DeskView | undefined]>([
  ['at a show', { ...DESK, mode: 'live' }],
  ['while the desk is not known', undefined],
])('%s nothing is sent: the preview opens', (_, on) => {
  touching(on)(6);
  expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining(`restore/${scene(6)}/preview`));
  expect(server.asked).toEqual([]);
});
