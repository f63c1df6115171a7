import { screen, waitFor } from '@testing-library/react';

import type { HereView } from '@old-echo/core/contracts/person';
import { type Role, ROLES } from '@old-echo/core/contracts/role';
import { PEOPLE_ROUTES } from '@old-echo/core/contracts/routes/people-routes';
import { DESK_RECALL_ROUTES } from '@old-echo/core/contracts/routes/recall-routes';
import { CAPTURE_ROUTES, SCENE_ROUTES } from '@old-echo/core/contracts/routes/scene-routes';

import { wentToDesk } from '../../src/store/preferences-slice';
import { store } from '../../src/store/store';
import { useMayAskHere } from '../../src/store/use-may-ask';
import { AllowedContext } from '../../src/ui/allowed';
import { Action, HoldButton } from '../../src/ui/buttons';
import { MenuRow } from '../../src/ui/menu';
import { Sheet } from '../../src/ui/sheet';
import { FakeServer } from '../fake-server';
import { DESK, show } from '../show';

const none = () => undefined;

/** Controls of three kinds, each of which asks for more than the one before. */
const controls = (
  <>
    <Action title="Look" asks={SCENE_ROUTES.scene} onPress={none} />
    <Action title="Capture" asks={CAPTURE_ROUTES.captureScene} onPress={none} />
    <HoldButton title="Restore" asks={DESK_RECALL_ROUTES.startRestore} onDone={none} />
    <MenuRow title="Bin" asks={SCENE_ROUTES.binScene} onPress={none} />
    <MenuRow title="People" asks={PEOPLE_ROUTES.people} onPress={none} />
  </>
);

const Controls = ({ inSheet }: { readonly inSheet: boolean }) => (
  <AllowedContext value={useMayAskHere()}>
    {inSheet ? (
      <Sheet title="A sheet" open onClose={none}>
        {controls}
      </Sheet>
    ) : (
      controls
    )}
  </AllowedContext>
);

const seenBy = async (role: Role, mode: 'studio' | 'live', inSheet = false) => {
  const here: HereView = { role, productions: [], device: null, person: null, network: 'https' };
  const server = new FakeServer({ here, desks: [{ ...DESK, mode }] });
  store.dispatch(wentToDesk(DESK.id));
  const { unmount } = show(<Controls inSheet={inSheet} />);
  await waitFor(() => expect([server.sentTo('here').length, server.sentTo('desks').length]).toEqual([1, 1]));
  await waitFor(() => expect(Boolean(screen.queryByRole('button', { name: 'People' }))).toBe(role === 'owner'));
  const seen = screen
    .getAllByRole('button')
    .map((one) => (one.getAttribute('aria-label') ?? one.textContent).replace(': hold', ''));
  unmount();
  return seen;
};

test.each<[Role, 'studio' | 'live', string[]]>([
  ['viewer', 'studio', ['Look']],
  ['assistant', 'studio', ['Look', 'Capture', 'Restore']],
  ['assistant', 'live', ['Look', 'Capture']],
  ['engineer', 'live', ['Look', 'Capture', 'Restore', 'Bin']],
  ['owner', 'live', ['Look', 'Capture', 'Restore', 'Bin', 'People']],
])('%s in %s mode sees what may be done, and nothing else', async (role, mode, seen) => {
  expect(await seenBy(role, mode)).toEqual(seen);
  // A sheet is drawn elsewhere on the page.
  expect((await seenBy(role, mode, true)).filter((name) => name !== 'Close modal')).toEqual(seen);
});

test('each role sees what those before it see', async () => {
  const all = [];
  for (const role of ROLES) all.push(await seenBy(role, 'studio'));
  for (const [at, seen] of all.entries()) expect(seen).toEqual(expect.arrayContaining(all[at - 1] ?? []));
});
