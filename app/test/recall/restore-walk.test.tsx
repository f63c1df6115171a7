import { fireEvent, screen, waitFor } from '@testing-library/react';

import { type RestoreView, sceneRecall } from '@old-echo/core/contracts/restore';
import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { preview } from '@old-echo/core/recall/preview';
import { ALL_EXCEPT_GLOBALS, ALL_WITH_GLOBALS } from '@old-echo/core/recall/scope-rules';
import type { WalkMarks } from '@old-echo/core/recall/walk';
import { netloft, profileJson } from '@old-echo/testing/profiles';

import { RestoreScreen } from '../../src/recall/restore-screen';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, isOff, SCENE, show } from '../show';

jest.setTimeout(30_000);

const ID = '01RESTORE00000000000000000';
const manual = {
  ...DESK,
  name: 'Netloft 24',
  profileId: 'netloft-24',
  link: { state: 'linked', why: '', manual: true } as const,
};
router.params = { desk: DESK.id, restore: ID };

const now = withSettings(defaultState(netloft), { 'in.1/label/name': 'Fiddle', 'in.1/fader/level': -5 });
const target = withSettings(now, {
  'in.1/fader/level': -20,
  'in.1/eq/on': true,
  'in.1/eq/low/gain': 3,
  'in.2/mute/on': true,
});
const plan = preview({ profile: netloft, now, target, scope: ALL_WITH_GLOBALS, safes: [], mode: 'studio' });

const walk = (marks: WalkMarks): RestoreView => ({
  id: ID,
  deskId: DESK.id,
  sceneId: SCENE.id,
  sceneName: SCENE.name,
  sceneNumber: SCENE.number,
  status: 'walk',
  recall: sceneRecall(DESK.id, SCENE.id, ALL_EXCEPT_GLOBALS),
  fade: 0,
  curve: 'even',
  by: 'Wren',
  answered: [],
  changes: plan.changes.length,
  wayBack: null,
  progress: null,
  marks,
  report: { confirmed: 0, unconfirmed: [], handled: [], leftMuted: [], milliseconds: 3 },
  startedAt: '2026-11-25T20:00:00.000Z',
  endedAt: null,
});

let server: FakeServer;
async function at(marks: WalkMarks, desk = manual) {
  server = new FakeServer({
    profile: profileJson('netloft-24'),
    restore: walk(marks),
    journal: { changes: plan.changes, guarded: plan.guarded },
    markWalk: walk(marks),
    endWalk: walk(marks),
  });
  follow(desk, now);
  show(<RestoreScreen />);
  await screen.findByText(/Static balance/);
}
const button = (name: string | RegExp) => screen.getByRole('button', { name });
const box = (name: RegExp) => screen.getByRole('checkbox', { name });
const title = () => screen.getByRole('heading', { level: 1 }).textContent;
const marked = () => server.sentTo('markWalk');

test('what falls and closes comes first; each stop shows what is turned from where to where', async () => {
  await at({});
  expect([title(), screen.getByText('0 of 4 settings set').textContent]).toEqual(['Fiddle', '0 of 4 settings set']);
  expect(box(/^Fader set to −20/).textContent).toContain('−5.0');
  expect(screen.getByText('Then Input 2, 1 setting')).toBeTruthy();
  fireEvent.click(button('All set, next'));
  await waitFor(() => expect(marked()).toEqual([{ marks: { 'close/in.1/fader/level': 'set' } }]));
  await waitFor(() => expect(title()).toBe('Input 2'));
});

test('left and come back to, it goes on where something is open; one that was said can be taken back', async () => {
  await at({ 'close/in.1/fader/level': 'set', 'close/in.2/mute/on': 'set', 'set/in.1/eq/on': 'set' });
  expect([title(), screen.getByText(/^Strip by strip/).textContent]).toEqual([
    'Fiddle',
    'Strip by strip · stop 3 of 3 · Input 1',
  ]);
  expect(box(/^EQ on set to/).getAttribute('aria-checked')).toBe('true');
  fireEvent.click(box(/^EQ on set to/));
  await waitFor(() => expect(marked()).toEqual([{ marks: { 'set/in.1/eq/on': null } }]));
  fireEvent.click(box(/^EQ low gain could not/));
  await waitFor(() => expect(marked()).toHaveLength(2));
  expect(marked()[1]).toEqual({ marks: { 'set/in.1/eq/low/gain': 'could not' } });
});

test('at its end it says what was skipped and what could not be, each counted by itself, and leads back there', async () => {
  await at({ 'close/in.1/fader/level': 'set', 'close/in.2/mute/on': 'set', 'set/in.1/eq/on': 'could not' });
  expect(screen.getByText('2 of 4 settings set, 1 could not be')).toBeTruthy();
  fireEvent.click(button('Skip'));
  expect(title()).toBe('The end of the walk');
  const left = screen.getAllByRole('button', { name: 'Fiddle · 1 setting' });
  expect(left).toHaveLength(2);
  fireEvent.click(left[0]!);
  expect(title()).toBe('Fiddle');
  fireEvent.click(button('Skip'));
  fireEvent.click(button('End the walk'));
  await waitFor(() => expect(server.sentTo('endWalk')).toHaveLength(1));
});

test('a mark that is refused is taken back on the screen, and nobody goes on', async () => {
  await at({});
  server.change({ markWalk: undefined });
  fireEvent.click(button('All set, next'));
  await waitFor(() => expect(marked()).toHaveLength(1));
  await waitFor(() => expect(screen.getByText('0 of 4 settings set')).toBeTruthy());
  expect(title()).toBe('Fiddle');
});

test('while the show is locked nothing is said', async () => {
  await at({}, { ...manual, showLock: true });
  expect([isOff(button('All set, next')), isOff(box(/^Fader set to/))]).toEqual([true, true]);
});
