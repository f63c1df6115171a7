import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { VenueView } from '@old-echo/core/contracts/part';
import type { RenderRequest } from '@old-echo/core/contracts/sound';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { quay } from '@old-echo/testing/profiles';

import { VenueCard } from '../../src/library/venue-card';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { DESK, PRODUCTION, SCENE, show } from '../show';
import { stem } from '../stem';

const PARTS = { 'in.1': 'Fiddle', 'fx.2': 'Hall' };
const VENUE: VenueView = {
  id: '01VENU00000000000000000000',
  name: 'Harbour Hall',
  note: 'The balcony rings.',
  settings: { Fiddle: { 'pan/position': -20 }, Hall: { 'inserts/time': 2.1 }, Gone: { 'pan/position': 0 } },
  capturedAt: '2026-11-25T20:00:00.000Z',
};

const FISH_MARKET: VenueView = {
  ...VENUE,
  id: '01VENU00000000000000000001',
  name: 'Fish market',
  settings: { Fiddle: { 'pan/position': 30 }, Hall: { 'inserts/time': 2.1 } },
};

let server: FakeServer;
function card(settings: SettingsByAddress, venue = VENUE) {
  server = new FakeServer({
    editVenue: [venue],
    captureVenue: [venue],
    copyVenue: [venue],
    productions: [PRODUCTION],
    stems: [stem('in.1')],
    startRender: new Fault('unavailable', 'Too much at once.', 'Try again.'),
  });
  const state = withSettings(defaultState(quay), settings);
  const desk = { ...DESK, scene: { ...SCENE, binned: false, isUndoable: false } };
  const now = { desk, profile: quay, state, known: true, linked: true };
  const nothing = () => undefined;
  show(
    <VenueCard
      venue={venue}
      others={[FISH_MARKET]}
      production={PRODUCTION}
      parts={PARTS}
      now={now}
      busy={false}
      isAtOnce
      onApply={nothing}
      onChoose={nothing}
    />,
  );
}

test.each([
  ['as it is there', { 'in.1/pan/position': -20, 'fx.2/inserts/time': 2.1 }, 'The desk is set as it is here.'],
  ['one setting away', { 'in.1/pan/position': -20, 'fx.2/inserts/time': 1 }, '1 setting on the desk differs from it.'],
  ['two away', { 'in.1/pan/position': 5, 'fx.2/inserts/time': 1 }, '2 settings on the desk differ from it.'],
])('how far the desk is from it is said: %s', (_, settings, words) => {
  card(settings);
  // A part that no strip carries any more counts nowhere.
  expect(screen.getByText(/^2 parts: pan and effect lengths\. Saved from the desk/)).toBeTruthy();
  expect(screen.getByText(words)).toBeTruthy();
});

test('of one that nothing was saved for nothing is said, and nothing can be put on the desk', () => {
  card({}, { ...VENUE, settings: {}, capturedAt: null });
  expect(screen.queryByText(/on the desk/)).toBeNull();
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Apply to all parts' }).disabled).toBe(true);
});

const open = (what: string) => {
  fireEvent.click(screen.getByRole('button', { name: 'More about Harbour Hall' }));
  fireEvent.click(screen.getByRole('button', { name: what }));
};

test('its name and note are changed, and given back with one more touch', async () => {
  card({});
  open('Edit name and note');
  fireEvent.change(screen.getByDisplayValue('Harbour Hall'), { target: { value: 'Net loft' } });
  fireEvent.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(server.sentTo('editVenue')).toEqual([{ name: 'Net loft', note: 'The balcony rings.' }]));
  await waitFor(() =>
    expect(store.getState().notice.undo).toMatchObject({ body: { name: 'Harbour Hall', note: 'The balcony rings.' } }),
  );
});

test('what it holds is chosen, beginning with what it holds; without anything chosen nothing is saved', async () => {
  card({});
  fireEvent.click(screen.getByRole('button', { name: 'Save the desk for it …' }));
  const chosen = () =>
    screen
      .getAllByRole('checkbox')
      .flatMap((box) => (box.getAttribute('aria-checked') === 'true' ? [box.textContent] : []));
  expect(chosen()).toEqual([
    '● Pan',
    '● Effect lengths',
    expect.stringContaining('Fiddle'),
    expect.stringContaining('Hall'),
  ]);
  fireEvent.click(screen.getByTestId('plays-in.1'));
  fireEvent.click(screen.getByRole('checkbox', { name: '○ EQ' }));
  fireEvent.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() =>
    expect(server.sentTo('captureVenue')).toEqual([{ sections: ['pan', 'effect lengths', 'eq'], strips: ['fx.2'] }]),
  );
});

test('it is compared with another, setting by setting, and by ear in the song that the desk is on', async () => {
  card({});
  open('Compare with another venue');
  expect(screen.getByTestId('venues-differ').textContent).toBe('1 setting on 1 strip differs');
  fireEvent.click(await screen.findByRole('button', { name: /^Hear A and B/ }));
  await waitFor(() => expect(server.sentTo('startRender')).toHaveLength(2));
  const renders = server.sentTo('startRender') as RenderRequest[];
  for (const one of renders) expect(one).toMatchObject({ productionId: PRODUCTION.id, deskId: DESK.id, solo: null });
  // What is the same in both is sent along: the desk may hold something else.
  const at = (pan: number) => ({ 'in.1/pan/position': pan, 'fx.2/inserts/time': 2.1 });
  expect(renders.map(({ settings }) => settings)).toEqual([at(-20), at(30)]);
  expect(server.sentTo('moveSettings')).toEqual([]);
});
