import { fireEvent, screen, waitFor, within } from '@testing-library/react';

import type { CombinationView, SaveCombination } from '@old-echo/core/contracts/combination';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { defaultState, type State, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { CombineScreen } from '../../src/combine/combine-screen';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, isOff, PRODUCTION, SCENE, show } from '../show';

jest.setTimeout(60_000);
router.params = { id: '01COMBINE00000000000000000' };

const id = (name: string) => `01${name}`.padEnd(26, '0');
const [PARENT, MINE, THEIRS] = [id('PARENT'), id('MINE'), id('THEIRS')] as const;
const parent = withSettings(defaultState(quay), { 'in.1/label/name': 'Wren vox' });
/** Both moved the first fader, each to another place; the second strip was moved in theirs alone. */
const states: Readonly<Record<string, State>> = {
  [PARENT]: parent,
  [MINE]: withSettings(parent, { 'in.1/fader/level': -5 }),
  [THEIRS]: withSettings(parent, { 'in.1/fader/level': -12, 'in.2/eq/2/gain': 3 }),
};
const scenes: Readonly<Record<string, SceneView>> = {
  [PARENT]: { ...SCENE, id: PARENT, number: 1, name: 'Rough' },
  [MINE]: { ...SCENE, id: MINE, number: 2, name: 'Evening', madeAt: '2026-11-25T20:00:00.000Z' },
  [THEIRS]: { ...SCENE, id: THEIRS, number: 3, name: 'Morning', madeAt: '2026-11-25T21:00:00.000Z' },
};
const BOTH: CombinationView = {
  id: '01COMBINE00000000000000000',
  productionId: PRODUCTION.id,
  versionId: SCENE.versionId,
  recipe: { base: MINE, merge: { scene: THEIRS, parent: PARENT }, picks: {} },
  changedAt: '2026-11-25T22:00:00.000Z',
  revision: 1,
};

let server: FakeServer;
let saved = BOTH;
async function combining(view: CombinationView = BOTH, answers: Record<string, unknown> = {}) {
  saved = view;
  router.replace.mockClear();
  const asked = (path: string) => path.split('/')[3] ?? '';
  server = new FakeServer({
    profile: profileJson('quay-48'),
    desks: [DESK],
    productions: [PRODUCTION],
    stems: [],
    combination: () => saved,
    editCombination: ({ picks }: CombinationView['recipe']) =>
      (saved = { ...saved, recipe: { ...saved.recipe, picks }, revision: saved.revision + 1 }),
    scene: (_: unknown, path: string) => scenes[asked(path)],
    sceneState: (_: unknown, path: string) => states[asked(path)],
    uniqueName: { name: 'Evening, combined' },
    saveCombination: { ...SCENE, id: id('MADE'), number: 4, name: 'Evening, combined' },
    discardCombination: {},
    ...answers,
  });
  show(<CombineScreen />);
  await screen.findByText('A: 2 Evening');
}
const button = (name: string | RegExp) => screen.getByRole('button', { name });
const press = async (name: string | RegExp) => fireEvent.click(await screen.findByRole('button', { name }));
const picks = () => server.sentTo('editCombination').at(-1);
const FADER = 'in.1/fader';

describe('two lines of work', () => {
  test('what both changed differently has to be settled before it can be saved', async () => {
    await combining();
    expect(isOff(button('1 section at odds to settle'))).toBe(true);
    const conflict = screen.getByTestId('conflicts');
    expect(within(conflict).getByText('Wren vox · Fader')).toBeTruthy();
    expect(within(conflict).getByText('−5.0 dB')).toBeTruthy();
    expect(within(conflict).getByText('−12.0 dB')).toBeTruthy();
  });

  test.each([
    ['A: 2 Evening', MINE],
    ['B: 3 Morning', THEIRS],
  ])('settled for %s, that is what is kept', async (title, scene) => {
    await combining();
    fireEvent.click(within(screen.getByTestId('conflicts')).getByRole('radio', { name: new RegExp(title) }));
    await waitFor(() => expect(picks()).toEqual({ picks: { [FADER]: scene }, revision: 1 }));
    await waitFor(() => expect(isOff(button('Save as a scene'))).toBe(false));
  });

  test.each([
    ['Always A', MINE],
    ['Always B', THEIRS],
    ['Louder one', MINE],
    ['Newer one', THEIRS],
  ])('by the rule “%s”', async (rule, scene) => {
    await combining();
    await press(rule);
    await waitFor(() => expect(picks()).toEqual({ picks: { [FADER]: scene }, revision: 1 }));
  });

  test('a pick that someone else was quicker than is taken back, and said', async () => {
    const conflict = new Fault('conflict', 'Someone else changed this meanwhile.', 'Look at it again.');
    await combining(BOTH, { editCombination: conflict });
    await press('Always B');
    await waitFor(() =>
      expect(store.getState().notice.text).toBe('Someone else changed this meanwhile. Look at it again.'),
    );
    await waitFor(() => expect(isOff(button('1 section at odds to settle'))).toBe(true));
  });
});

describe('kept', () => {
  const settled: CombinationView = { ...BOTH, recipe: { ...BOTH.recipe, picks: { [FADER]: MINE } }, revision: 7 };

  test('under a name that is free, with what comes from where as its note, at the revision that was seen', async () => {
    await combining(settled);
    await press('Save as a scene');
    await press('Save');
    await waitFor(() => expect(server.sentTo('saveCombination')).toHaveLength(1));
    const [sent] = server.sentTo('saveCombination') as SaveCombination[];
    expect(sent).toMatchObject({ name: 'Evening, combined', revision: 7 });
    expect(sent?.note).toContain('3 Morning');
    await waitFor(() => expect(router.replace).toHaveBeenCalledWith(expect.stringContaining(id('MADE'))));
  });

  test('and restored, its scope is chosen next; nothing is sent to the desk yet', async () => {
    await combining(settled);
    await press('Save as a scene');
    await press('Save and restore');
    await waitFor(() => expect(router.replace).toHaveBeenCalledWith(`/restore/${id('MADE')}`));
    expect(server.sentTo('startRestore')).toEqual([]);
  });

  test('a name that is taken is said where it was typed, and what was typed stays', async () => {
    await combining(settled, {
      saveCombination: new Fault('conflict', 'There is a scene Dusk already.', 'Choose another.'),
    });
    await press('Save as a scene');
    fireEvent.change(await screen.findByLabelText('Name'), { target: { value: 'Dusk' } });
    await press('Save');
    expect((await screen.findByRole('alert')).textContent).toContain('There is a scene Dusk already.');
    expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('Dusk');
    expect(router.replace).not.toHaveBeenCalled();
  });

  test('a suggestion that comes once the name is being typed is not typed into', async () => {
    let suggest: (value: unknown) => void = () => undefined;
    await combining(settled, { uniqueName: () => new Promise((resolve) => (suggest = resolve)) });
    await press('Save as a scene');
    const field = await screen.findByLabelText<HTMLInputElement>('Name');
    fireEvent.focus(field);
    suggest({ name: 'Evening, combined' });
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(field.value).toBe('');
    fireEvent.change(field, { target: { value: 'Dusk' } });
    await press('Save');
    await waitFor(() => expect(server.sentTo('saveCombination')).toMatchObject([{ name: 'Dusk' }]));
  });

  test('not without a name', async () => {
    await combining(settled);
    await press('Save as a scene');
    fireEvent.change(await screen.findByLabelText('Name'), { target: { value: '  ' } });
    expect(isOff(button('Save'))).toBe(true);
    expect(isOff(button('Save and restore'))).toBe(true);
  });
});

test('with nothing taken there is nothing to save', async () => {
  await combining({ ...BOTH, recipe: { base: MINE, merge: null, picks: {} } });
  expect(isOff(button('Nothing taken yet'))).toBe(true);
});

test('discarded, it can be begun again as it was', async () => {
  await combining({ ...BOTH, recipe: { ...BOTH.recipe, picks: { [FADER]: THEIRS } } });
  await press('Discard');
  await waitFor(() => expect(store.getState().notice.text).toBe('Discarded. No scene was changed.'));
  expect(store.getState().notice.undo).toMatchObject({
    body: { base: MINE, merge: THEIRS, picks: { [FADER]: THEIRS } },
  });
});
