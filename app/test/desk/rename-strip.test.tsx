import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { quay } from '@old-echo/testing/profiles';

import { SelectionBar } from '../../src/desk/selection-bar';
import { chosen } from '../../src/store/selection-slice';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { DESK, follow, isOff, PRODUCTION, show } from '../show';

const state = withSettings(defaultState(quay), { 'in.3/label/name': 'Fiddle' });

let server: FakeServer;
async function selected(strips: readonly string[], desk: DeskView = DESK) {
  server = new FakeServer({ productions: [PRODUCTION], profile: undefined, moveSettings: {} });
  follow(desk, state);
  store.dispatch(chosen(strips));
  show(<SelectionBar now={{ desk, profile: quay, state, known: true, linked: true }} shown={quay.strips} />);
  fireEvent.click(await screen.findByRole('button', { name: 'Actions …' }));
}

test('a selected strip is renamed from the list', async () => {
  await selected(['in.3']);
  fireEvent.click(screen.getByRole('button', { name: 'Name and colour' }));
  const field = screen.getByTestId<HTMLInputElement>('typed-value');
  expect(field.value).toBe('Fiddle');
  fireEvent.change(field, { target: { value: 'Fiddle 2' } });
  fireEvent.click(screen.getByRole('button', { name: 'Set' }));
  await waitFor(() =>
    expect(server.sentTo('moveSettings')).toMatchObject([{ settings: { 'in.3/label/name': 'Fiddle 2' } }]),
  );
});

test('and given another colour, once it is set', async () => {
  await selected(['in.3']);
  fireEvent.click(screen.getByRole('button', { name: 'Name and colour' }));
  expect(screen.getAllByRole('radio').map((one) => [one.textContent, one.getAttribute('aria-checked')])).toContainEqual(
    ['sand', 'true'],
  );
  fireEvent.click(screen.getByRole('radio', { name: 'foam' }));
  expect(screen.getByRole('radio', { name: 'foam' }).getAttribute('aria-checked')).toBe('true');
  expect(server.sentTo('moveSettings')).toEqual([]);
  fireEvent.click(screen.getByRole('button', { name: 'Set' }));
  await waitFor(() =>
    expect(server.sentTo('moveSettings')).toMatchObject([{ settings: { 'in.3/label/colour': 'foam' } }]),
  );
});

test('while the show is locked it says so', async () => {
  await selected(['in.3'], { ...DESK, showLock: true });
  expect(isOff(screen.getByRole('button', { name: 'Name and colour' }))).toBe(true);
  expect(screen.getAllByText('The show is locked').length).toBeGreaterThan(0);
});

test('several strips are not renamed at once', async () => {
  await selected(['in.3', 'in.4']);
  expect(screen.queryByRole('button', { name: 'Name and colour' })).toBeNull();
});
