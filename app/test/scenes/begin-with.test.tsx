import { fireEvent, screen, waitFor, within } from '@testing-library/react';

import type { PresetView } from '@old-echo/core/contracts/preset';

import { ProductionForm } from '../../src/scenes/production-form';
import { draftDone } from '../../src/store/draft-slice';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, PRODUCTION, SCENE, show } from '../show';

const SPARE = { ...DESK, id: '01SPARE0000000000000000000', name: 'Skiff 16', profileId: 'skiff-16' };
const TEMPLATE = {
  id: '01TEMP00000000000000000000',
  kind: 'template',
  name: 'The whole band',
  madeOn: 'Quay 48',
  note: 'Faders down.',
  binnedAt: null,
} as PresetView;

let server: FakeServer;
function form(presets: readonly PresetView[] = [TEMPLATE]) {
  router.navigate.mockClear();
  server = new FakeServer({
    desks: [DESK, SPARE],
    productions: [PRODUCTION],
    presets,
    scenes: { scenes: [SCENE], more: false },
    createProduction: { id: 'made' },
  });
  follow(DESK, {});
  store.dispatch(draftDone('production/new'));
  const done = jest.fn();
  show(<ProductionForm onDone={done} />);
  fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Second night' } });
  return done;
}
const tab = (name: string) => fireEvent.click(screen.getByRole('tab', { name }));
const create = () => fireEvent.click(screen.getByRole('button', { name: 'Create' }));
const sent = () => server.sentTo('createProduction');

test('a new song or show begins with a copy of the scene that is chosen', async () => {
  const done = form();
  fireEvent.click(await screen.findByRole('tab', { name: DESK.name }));
  tab('A scene …');
  fireEvent.click(await screen.findByRole('radio', { name: `14 ${SCENE.name}` }));
  expect(await screen.findByRole('tab', { name: `14 ${SCENE.name}` })).toBeTruthy();
  create();
  await waitFor(() => expect(sent()).toMatchObject([{ name: 'Second night', deskId: DESK.id, fromSceneId: SCENE.id }]));
  await waitFor(() => expect(done).toHaveBeenCalledWith('made'));
  expect(router.navigate).not.toHaveBeenCalled();
});

test('on another desk model that scene cannot stand: it begins with nothing again', async () => {
  form();
  fireEvent.click(await screen.findByRole('tab', { name: DESK.name }));
  tab('A scene …');
  fireEvent.click(await screen.findByRole('radio', { name: `14 ${SCENE.name}` }));
  tab('Skiff 16');
  expect(screen.getByRole('tab', { name: 'Nothing' }).getAttribute('aria-selected')).toBe('true');
  create();
  await waitFor(() => expect(sent()).toMatchObject([{ deskId: SPARE.id, fromSceneId: null }]));
});

test('with a template it leads to what that changes on the desk, before anything is sent', async () => {
  form();
  fireEvent.click(await screen.findByRole('tab', { name: DESK.name }));
  tab('A template …');
  fireEvent.click(await screen.findByRole('radio', { name: 'The whole band' }));
  expect(await screen.findByText('You see what it changes on Quay 48 before anything is sent.')).toBeTruthy();
  create();
  await waitFor(() => expect(router.navigate).toHaveBeenCalledWith(`/library/apply?preset=${TEMPLATE.id}`));
  expect(sent()).toMatchObject([{ fromSceneId: null }]);
  expect(store.getState().place).toMatchObject({ deskId: DESK.id, productionId: 'made' });
});

test('without any template it says how one is made', async () => {
  form([]);
  tab('A template …');
  expect(within(await screen.findByRole('dialog')).getByText('No templates yet')).toBeTruthy();
});
