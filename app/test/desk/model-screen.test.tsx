import { fireEvent, screen, waitFor, within } from '@testing-library/react';

import { compareProfiles, type ProfileChangeView } from '@old-echo/core/desk/profile-change';
import type { ProfileSource } from '@old-echo/core/desk/profile-source';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { FamilyScreen } from '../../src/desk/model/family-screen';
import { ModelScreen } from '../../src/desk/model/model-screen';
import { draftDone } from '../../src/store/draft-slice';
import { store } from '../../src/store/store';
import { typedNumber } from '../../src/ui/typed-number';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { isOff, show } from '../show';

jest.setTimeout(60_000);

const MODEL = { id: 'quay-48', name: 'Quay 48', use: 'live', manual: false, strips: 105, settings: 10_623 };
const NO_LOSS: ProfileChangeView = {
  ...compareProfiles(quay, quay),
  desks: [],
  scenes: 3,
  losing: 0,
  aside: [],
  beyond: [],
  presets: [],
};

let server: FakeServer;
async function opened(what: 'model' | 'family', params: Record<string, string> = {}, answers = {}) {
  router.params = { model: 'quay-48', family: 'in', ...params };
  for (const form of ['model/quay-48', 'model/copy/quay-48']) store.dispatch(draftDone(form));
  router.navigate.mockClear();
  server = new FakeServer({
    profile: profileJson('quay-48'),
    profiles: [MODEL],
    previewProfileChange: NO_LOSS,
    changeProfile: MODEL,
    addProfile: { ...MODEL, id: 'quay-48-2', name: 'Quay 48 2' },
    ...answers,
  });
  show(what === 'model' ? <ModelScreen /> : <FamilyScreen />);
  await screen.findByText(what === 'model' ? '105 strips' : 'Sections');
}
const type = (testId: string, text: string) =>
  fireEvent.change(screen.getByTestId(testId), { target: { value: text } });
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }));

test('nothing is sent before something has changed, nor while it cannot be read', async () => {
  await opened('model');
  expect(isOff(screen.getByRole('button', { name: 'What it means …' }))).toBe(true);
  type('model-name', '');
  expect(isOff(screen.getByRole('button', { name: 'What it means …' }))).toBe(true);
  type('model-name', 'Quay');
  expect(isOff(screen.getByRole('button', { name: 'What it means …' }))).toBe(false);
});

test('what it means is asked for, told, and undone with what it was', async () => {
  await opened('model');
  type('model-name', 'Quay of ours');
  press('What it means …');
  await screen.findByText('Nothing that scenes hold is different.');
  press('Change Quay of ours');
  await waitFor(() => expect(store.getState().notice.text).toBe('Quay of ours changed.'));
  const [sent] = server.sentTo('changeProfile') as { was: ProfileSource; source: ProfileSource }[];
  expect([sent?.was.name, sent?.source.name]).toEqual(['Quay 48', 'Quay of ours']);
  expect(store.getState().notice.undo?.body).toEqual({ was: sent?.source, source: sent?.was });
});

test('where somebody else has changed it meanwhile, that is said and nothing typed is lost', async () => {
  const fault = new Fault('conflict', 'Quay 48 was changed by somebody else meanwhile.', 'Look at it again.');
  await opened('model', {}, { changeProfile: fault });
  type('model-name', 'Quay of ours');
  press('What it means …');
  await screen.findByText('Nothing that scenes hold is different.');
  press('Change Quay of ours');
  await screen.findByText('Quay 48 was changed by somebody else meanwhile.');
  expect(screen.getByTestId('model-name')).toHaveProperty('value', 'Quay of ours');
});

test('a copy has an id and a name of its own, and is a model of its own', async () => {
  await opened('model', { copy: '1' });
  expect(screen.getByTestId('model-name')).toHaveProperty('value', 'Quay 48 2');
  type('model-name', 'Pier');
  press('Add model');
  await waitFor(() => expect(server.sentTo('addProfile')).toMatchObject([{ source: { id: 'pier', name: 'Pier' } }]));
});

test('a number that is none yet stays as it was typed, and is said to be none', async () => {
  await opened('family');
  type('family-count', '4x');
  expect(screen.getByTestId('family-count')).toHaveProperty('value', '4x');
  expect(screen.getByTestId('model-fault').textContent).toContain('families[0].count');
  type('family-count', '12');
  expect(screen.queryByTestId('model-fault')).toBeNull();
});

test('the range of a setting is changed where it stands', async () => {
  await opened('family');
  press('Fader');
  type('Level max', '6');
  const draft = store.getState().drafts['model/quay-48'] as { source: ProfileSource };
  expect(draft.source.families[0]?.sections['fader']).toMatchObject({ level: { min: -90, max: 6 } });
  press('Take out Fader');
  expect(screen.queryByRole('button', { name: 'Fader' })).toBeNull();
});

test('sections that it has not are offered from a model', async () => {
  await opened('family');
  press('Gate');
  press('Take out Gate');
  press(/^Add a section/);
  const sheet = within(await screen.findByRole('dialog'));
  fireEvent.click(await sheet.findByRole('radio', { name: 'Gate of Inputs' }));
  expect(screen.getByRole('button', { name: 'Gate' })).toBeTruthy();
});

test.each([
  ['12', 12],
  ['−4,5', -4.5],
  ['0.1', 0.1],
  ['-', '-'],
  ['1.', '1.'],
  ['1.0', '1.0'],
  ['', ''],
  ['4x', '4x'],
])('%p typed is %p', (text, number) => {
  expect(typedNumber(text)).toBe(number);
});
