import { fireEvent, screen, waitFor, within } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { quay } from '@old-echo/testing/profiles';

import { RestoreSelectedSheet } from '../../src/desk/restore-selected-sheet';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, PRODUCTION, SCENE, show } from '../show';

const state = defaultState(quay);

let server: FakeServer;
async function from(moved: SettingsByAddress, desk: DeskView = DESK) {
  router.navigate.mockClear();
  server = new FakeServer({
    scenes: { scenes: [SCENE], total: 1, more: false },
    sceneState: withSettings(state, moved),
    startRestore: undefined,
  });
  follow(desk, state);
  show(
    <RestoreSelectedSheet
      now={{ desk, profile: quay, state, known: true, linked: true }}
      production={PRODUCTION}
      strips={['in.1', 'in.2']}
      open
      onClose={() => undefined}
    />,
  );
  fireEvent.click(await screen.findByRole('radio', { name: /14 Static balance/ }));
  return within(await screen.findByRole('dialog', { name: '2 strips from 14 Static balance' }));
}
const MOVED = { 'in.1/fader/level': -20, 'in.1/eq/2/gain': 3, 'in.2/eq/2/gain': 4, 'in.9/pan/position': 40 };

test('only what differs on these strips is offered, section by section, with how much it is', async () => {
  const sheet = await from(MOVED);
  await sheet.findByText('3 settings on 2 strips');
  const offered = sheet.getAllByRole('button').map(({ textContent }) => textContent);
  expect(offered).toEqual([
    'All sections3 settings on 2 strips',
    'EQ2 settings on 2 strips',
    'Fader1 setting on 1 strip',
  ]);
});

test.each([
  ['EQ', ['eq']],
  ['All sections', ['*']],
])('%s comes back on these strips alone, at a touch', async (name, sections) => {
  const sheet = await from(MOVED);
  fireEvent.click(await sheet.findByRole('button', { name: new RegExp(`^${name}`) }));
  await waitFor(() => expect(server.sentTo('startRestore')).toHaveLength(1));
  expect(server.sentTo('startRestore')[0]).toMatchObject({
    fingerprint: null,
    recall: { sceneId: SCENE.id, scope: [{ strips: ['in.1', 'in.2'], sections, include: true }] },
  });
});

test('at a show the preview opens with just that', async () => {
  const sheet = await from(MOVED, { ...DESK, mode: 'live' });
  fireEvent.click(await sheet.findByRole('button', { name: /^EQ/ }));
  expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining(encodeURIComponent('"sections":["eq"]')));
  expect(server.sentTo('startRestore')).toEqual([]);
});

test('where nothing differs it says so', async () => {
  const sheet = await from({ 'in.9/pan/position': 40 });
  expect(await sheet.findByText('Nothing differs')).toBeTruthy();
  expect(sheet.queryAllByRole('button')).toEqual([]);
});
