import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import type { Scope } from '@old-echo/core/recall/scope-rules';
import { quay } from '@old-echo/testing/profiles';

import { HeldScopeCard } from '../../src/desk/held-scope-card';
import { HoldScopeSheet } from '../../src/desk/hold-scope-sheet';
import { useHeldScope } from '../../src/desk/use-held-scope';
import { scopeHeld, scopeReleased } from '../../src/store/held-scope-slice';
import { chosen } from '../../src/store/selection-slice';
import { store } from '../../src/store/store';
import type { LiveDesk } from '../../src/store/use-live-desk';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, SCENE, show } from '../show';

const state = defaultState(quay);
const SENDS: Scope = [{ strips: ['in.1', 'in.2'], sections: ['sends'], include: true }];
const ON: DeskView = {
  ...DESK,
  baseline: { revision: 3, line: '14 Static balance' },
  scene: { ...SCENE, binned: false, isUndoable: false },
};
const numbered = (number: number): SceneView => ({ ...SCENE, id: `scene-${number}`, number, name: `Take ${number}` });
/** Scenes 1 to 20 in a row, of which 14 stands on the desk. */
const neighbours = (_: unknown, path: string) => {
  const id = path.split('/').at(-2)!;
  const at = id === SCENE.id ? 14 : Number(id.slice(6));
  return { earlier: at > 1 ? numbered(at - 1) : null, later: at < 20 ? numbered(at + 1) : null };
};
const origins = (...numbers: number[]) => ({
  sources: numbers.map((number) => ({ sceneId: `scene-${number}`, number, name: `Take ${number}` })),
  cells: Object.fromEntries(numbers.map((_, i) => [`in.${i + 1}/sends`, [i]])),
});

function Card({ now }: { readonly now: LiveDesk }) {
  const held = useHeldScope(now.desk, now.profile);
  return held ? <HeldScopeCard now={now} held={held} /> : null;
}

let server: FakeServer;
function card(answers: Record<string, unknown> = {}, desk: DeskView = ON) {
  router.navigate.mockClear();
  server = new FakeServer({ neighbours, baselineOrigins: origins(14), startRestore: undefined, ...answers });
  follow(desk, state);
  store.dispatch(scopeHeld({ deskId: desk.id, scope: SENDS }));
  show(<Card now={{ desk, profile: quay, state, known: true, linked: desk.link.state === 'linked' }} />);
}
const from = () => screen.getByTestId('held-from').textContent;
const key = (name: string) => fireEvent.keyDown(document.body, { key: name });
const asked = () => server.sentTo('startRestore');

test('an arrow takes only what is held from the next scene, and the step after it goes on from there at once', async () => {
  card({ startRestore: () => new Promise(() => undefined) });
  await screen.findByRole('button', { name: 'Take it from 13 Take 13' });
  expect(screen.getByTestId('sentence').textContent).toBe('Sends on 2 strips come back. 102 strips stay as they are.');
  key('ArrowLeft');
  await waitFor(() => expect(asked()).toHaveLength(1));
  expect(asked()[0]).toMatchObject({ fingerprint: null, recall: { sceneId: 'scene-13', scope: SENDS } });
  expect(from()).toBe('13 Take 13 …');
  await screen.findByRole('button', { name: 'Take it from 12 Take 12' });
});

test('a scene in which nothing of it differs is walked over, and says so', async () => {
  card({ startRestore: new Fault('no-difference', 'The desk already holds it.', 'Nothing was sent.') });
  fireEvent.click(await screen.findByRole('button', { name: 'Take it from 15 Take 15' }));
  await waitFor(() => expect(from()).toBe('15 Take 15: the same'));
  await screen.findByRole('button', { name: 'Take it from 16 Take 16' });
});

test('where it was refused one is where one was', async () => {
  card({ startRestore: new Fault('desk-busy', 'Someone restores.', 'Wait.') });
  fireEvent.click(await screen.findByRole('button', { name: 'Take it from 15 Take 15' }));
  await waitFor(() => expect(store.getState().notice.text).toBe('Someone restores. Wait.'));
  expect(from()).toBe('14 Take 14');
});

test('what is held says every scene that it is from, and Enter keeps it', async () => {
  card({ baselineOrigins: origins(14, 9) });
  await waitFor(() => expect(from()).toMatch(/and 1 other$/));
  key('Enter');
  expect(router.navigate).toHaveBeenCalledWith(`/desk/${DESK.id}/capture`);
});

test('at a show each step opens its preview, and one stays where one is', async () => {
  card({}, { ...ON, mode: 'live' });
  await screen.findByRole('button', { name: 'Take it from 13 Take 13' });
  key('ArrowLeft');
  expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining('restore/scene-13/preview'));
  expect(from()).toBe('14 Take 14');
  expect(asked()).toEqual([]);
});

test('after the newest scene there is no other', async () => {
  card({ baselineOrigins: origins(20) });
  await screen.findByRole('button', { name: 'Take it from 19 Take 19' });
  key('ArrowRight');
  expect(screen.getByRole('button', { name: 'No later scene' })).toBeTruthy();
  expect(asked()).toEqual([]);
});

test('nothing is taken while the desk is not connected', async () => {
  card({}, { ...ON, link: { state: 'unlinked', why: 'Gone.' } });
  await screen.findByRole('button', { name: 'Take it from 13 Take 13' });
  key('ArrowLeft');
  expect(asked()).toEqual([]);
});

test('it stays held when the page is opened anew, until it is let go', () => {
  card();
  const stored = () => JSON.parse(sessionStorage.getItem('old-echo.held-scopes') ?? '{}') as unknown;
  expect(stored()).toEqual({ [DESK.id]: SENDS });
  fireEvent.click(screen.getByRole('button', { name: 'Let go of the held scope' }));
  expect(screen.queryByTestId('held-scope')).toBeNull();
  expect(stored()).toEqual({});
});

test.each([
  ['selected strips, as they are chosen already', [], ['in.3', 'in.4']],
  ['all strips', ['All strips'], ['*']],
  ['a family', ['Mixes'], quay.families.find(({ id }) => id === 'mix')!.strips],
])('sections are held on %s', (_, taps, strips) => {
  store.dispatch(scopeReleased(DESK.id));
  store.dispatch(chosen(['in.3', 'in.4']));
  new FakeServer({ savedScopes: [] });
  show(
    <HoldScopeSheet now={{ desk: ON, profile: quay, state, known: true, linked: true }} onClose={() => undefined} />,
  );
  for (const name of taps) fireEvent.click(screen.getByRole('tab', { name }));
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Hold it' }).disabled).toBe(true);
  fireEvent.click(screen.getByRole('checkbox', { name: /Sends/ }));
  fireEvent.click(screen.getByRole('button', { name: 'Hold it' }));
  expect(store.getState().heldScopes[DESK.id]).toEqual([{ strips, sections: ['sends'], include: true }]);
});
