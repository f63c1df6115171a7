import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { profileJson } from '@old-echo/testing/profiles';

import { DeskSafesSheet } from '../../src/desk/desk-safes-sheet';
import { FakeServer } from '../fake-server';
import { DESK, show } from '../show';

let server: FakeServer;
async function sheet(desk: DeskView = DESK) {
  server = new FakeServer({ profile: profileJson('quay-48'), editDesk: desk });
  show(<DeskSafesSheet desk={desk} onClose={() => undefined} />);
  await screen.findByRole('dialog');
}
const box = (name: string) => screen.getByRole('checkbox', { name });

test('a section that never comes back is safe on every strip, and let go of again what else is safe stays', async () => {
  await sheet();
  fireEvent.click(box('Preamp'));
  await waitFor(() =>
    expect(server.sentTo('editDesk')).toEqual([{ safes: [{ strips: ['*'], sections: ['preamp'] }] }]),
  );
});

test('it shows what is safe, and lets go of that rule alone', async () => {
  const own = { strips: ['in.1'], sections: ['*'] };
  await sheet({ ...DESK, safes: [{ strips: ['*'], sections: ['preamp'] }, { strips: ['mix'], sections: ['*'] }, own] });
  expect([box('Preamp'), box('Mixes'), box('EQ')].map((one) => one.getAttribute('aria-checked'))).toEqual([
    'true',
    'true',
    'false',
  ]);
  expect(screen.getByText(/^Input 1 as a whole\./)).toBeTruthy();
  fireEvent.click(box('Mixes'));
  await waitFor(() =>
    expect(server.sentTo('editDesk')).toEqual([{ safes: [{ strips: ['*'], sections: ['preamp'] }, own] }]),
  );
});

test('while the show is locked it says that safes stay', async () => {
  await sheet({ ...DESK, showLock: true });
  expect(screen.getByText('The show is locked: safes stay as they are.')).toBeTruthy();
});
