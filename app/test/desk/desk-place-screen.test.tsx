import { fireEvent, screen, waitFor, within } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { LinkTrial } from '@old-echo/core/desk/link-trial';
import { Fault } from '@old-echo/core/fault/fault';

import { DeskPlaceScreen } from '../../src/desk/desk-place-screen';
import { draftDone } from '../../src/store/draft-slice';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, isOff, show } from '../show';

const MODEL = { id: 'skiff-16', name: 'Skiff 16', use: 'live', strips: 28, settings: 664 };
const ADDED: DeskView = { ...DESK, id: '01DESK00000000000000000009', name: 'Pier', profileId: 'skiff-16' };
const TRIAL: LinkTrial = {
  desk: { profileId: 'skiff-16', name: 'Skiff 16' },
  why: '',
  roundTrip: { median: 1, worst: 2 },
  packets: 20,
  lost: 0,
  settings: 664,
  answered: 664,
  unanswered: 0,
  unasked: 0,
  missing: [],
  unfit: [],
};

let server: FakeServer;
async function form(params: Record<string, string> = {}, answers: Record<string, unknown> = {}) {
  router.params = params;
  for (const form of ['desk/new', `desk/${DESK.id}`]) store.dispatch(draftDone(form));
  router.replace.mockClear();
  router.navigate.mockClear();
  server = new FakeServer({
    desks: [DESK],
    profiles: [MODEL],
    nearbyDesks: [],
    addDesk: ADDED,
    placeDesk: ADDED,
    tryLink: TRIAL,
    ...answers,
  });
  show(<DeskPlaceScreen />);
  await screen.findByTestId('desk-name');
}
const type = (field: string, text: string) => fireEvent.change(screen.getByTestId(field), { target: { value: text } });
const value = (field: string) => screen.getByTestId<HTMLInputElement>(field).value;
const button = (name: string) => screen.getByRole('button', { name });
const fill = async () => {
  fireEvent.click(await screen.findByRole('radio', { name: 'Skiff 16' }));
  type('desk-name', 'Pier');
  type('desk-host', '10.0.0.7');
  type('desk-port', '9000');
};
const PLACE = { name: 'Pier', host: '10.0.0.7', port: 9000 };

test('a desk is tried where it is said to be, added, and gone to; that can be undone', async () => {
  await form();
  expect(isOff(button('Add desk'))).toBe(true);
  await fill();
  fireEvent.click(button('Try the link'));
  expect((await screen.findByTestId('link-trial')).textContent).toBe('Skiff 16 answers');
  expect(server.sentTo('tryLink')).toEqual([{ profileId: 'skiff-16', host: '10.0.0.7', port: 9000 }]);
  fireEvent.click(button('Add desk'));
  await waitFor(() => expect(router.replace).toHaveBeenCalledWith(`/desk/${ADDED.id}`));
  // A model says what it is made for.
  expect(server.sentTo('addDesk')).toEqual([{ ...PLACE, profileId: 'skiff-16', mode: 'live' }]);
  expect(store.getState().notice.undo?.url).toBe(`/desks/${ADDED.id}/remove`);
});

test('a desk that says it is there is chosen instead of typed, with its model where that is here', async () => {
  const found = { profileId: 'skiff-16', name: 'Skiff 16', host: '10.0.0.9', port: 9009 };
  await form({}, { nearbyDesks: [found, { ...found, profileId: 'other', name: 'Punt', port: 9010 }] });
  fireEvent.click(button('Find it on the network …'));
  fireEvent.click(await screen.findByRole('radio', { name: 'Punt' }));
  expect([value('desk-host'), value('desk-port'), value('desk-name')]).toEqual(['10.0.0.9', '9010', '']);
  expect(isOff(button('Add desk'))).toBe(true);
  fireEvent.click(button('Find it on the network …'));
  const sheet = await screen.findByRole('dialog');
  fireEvent.click(await within(sheet).findByRole('radio', { name: 'Skiff 16' }));
  expect([value('desk-host'), value('desk-port'), value('desk-name')]).toEqual(['10.0.0.9', '9009', 'Skiff 16']);
  fireEvent.click(button('Add desk'));
  await waitFor(() =>
    expect(server.sentTo('addDesk')).toEqual([
      { name: 'Skiff 16', host: '10.0.0.9', port: 9009, profileId: 'skiff-16', mode: 'live' },
    ]),
  );
});

test('what was tried is not said of another address', async () => {
  await form();
  await fill();
  fireEvent.click(button('Try the link'));
  await screen.findByTestId('link-trial');
  type('desk-port', '9001');
  expect(screen.queryByTestId('link-trial')).toBeNull();
});

test('the name that is suggested is free', async () => {
  await form({}, { profiles: [{ ...MODEL, id: 'quay-48', name: 'Quay 48' }] });
  fireEvent.click(await screen.findByRole('radio', { name: 'Quay 48' }));
  expect(screen.getByTestId<HTMLInputElement>('desk-name').value).toBe('Quay 48 2');
});

test('refused, it says why, and what was typed stays, also when one comes back to it', async () => {
  const taken = new Fault('conflict', 'There is a desk called Pier.', 'Give it another name.', 'name');
  await form({}, { addDesk: taken });
  await fill();
  fireEvent.click(button('Add desk'));
  expect(await screen.findByText('There is a desk called Pier.')).toBeTruthy();
  expect(screen.getByTestId<HTMLInputElement>('desk-host').value).toBe('10.0.0.7');
  expect(router.replace).not.toHaveBeenCalled();
});

test.each([
  ['desk-host', 'two words'],
  ['desk-port', '0'],
  ['desk-port', ''],
  ['desk-name', ' '],
])('with %s as “%s” it cannot be added', async (field, text) => {
  await form();
  await fill();
  expect(isOff(button('Add desk'))).toBe(false);
  type(field, text);
  expect(isOff(button('Add desk'))).toBe(true);
});

test('of one that is here, name and address are changed, which can be undone; its model stays', async () => {
  await form({ desk: DESK.id });
  expect(screen.queryByRole('radio')).toBeNull();
  expect(screen.getByTestId<HTMLInputElement>('desk-port').value).toBe('9000');
  type('desk-name', 'Pier');
  type('desk-host', '10.0.0.7');
  fireEvent.click(button('Save'));
  await waitFor(() => expect(server.sentTo('placeDesk')).toEqual([PLACE]));
  await waitFor(() =>
    expect(store.getState().notice.undo?.body).toEqual({ name: DESK.name, host: '127.0.0.1', port: 9000 }),
  );
});

test('while its show is locked they stay', async () => {
  await form({ desk: DESK.id }, { desks: [{ ...DESK, showLock: true }] });
  type('desk-name', 'Pier');
  expect(isOff(button('Save'))).toBe(true);
});

test('one that is here is taken out of use at one touch, which can be undone; where that is refused it says why', async () => {
  const locked = new Fault('desk-busy', 'Someone is restoring on this desk.', 'Wait until they are done.');
  await form({ desk: DESK.id }, { removeDesk: locked });
  fireEvent.click(button(`Remove ${DESK.name}`));
  await waitFor(() =>
    expect(store.getState().notice.text).toBe('Someone is restoring on this desk. Wait until they are done.'),
  );
  expect(router.navigate).not.toHaveBeenCalledWith('/settings');
  server.change({ removeDesk: DESK });
  fireEvent.click(button(`Remove ${DESK.name}`));
  await waitFor(() => expect(router.navigate).toHaveBeenCalledWith('/settings'));
  expect(store.getState().notice.undo?.url).toBe(`/desks/${DESK.id}/bring-back`);
});
