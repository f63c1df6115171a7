import { screen } from '@testing-library/react';

import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { VenuesScreen } from '../../src/library/venues-screen';
import { StemsScreen } from '../../src/sound/stems-screen';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, PRODUCTION, show } from '../show';

test.each([
  ['venues', VenuesScreen],
  ['stems', StemsScreen],
])('a page of %s that does not come says why, and does not ask for it again and again', async (name, Page) => {
  router.params = { production: PRODUCTION.id };
  const server = new FakeServer({
    productions: [PRODUCTION],
    desks: [DESK],
    profile: profileJson('quay-48'),
    venues: [],
    parts: {},
    stems: [],
    [name]: new Fault('not-found', 'It is gone.', 'Choose another.'),
  });
  follow({ ...DESK, id: PRODUCTION.deskId }, defaultState(quay));
  show(<Page />);
  expect(await screen.findByText(/It is gone\./)).toBeTruthy();
  await new Promise((resolve) => setTimeout(resolve, 600));
  expect(server.asked.filter((asked) => asked.name === name)).toHaveLength(1);
  expect(screen.getByText(/It is gone\./)).toBeTruthy();
});
