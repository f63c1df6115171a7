import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { quay } from '@old-echo/testing/profiles';

import { CurrentSceneCard } from '../../src/desk/current-scene-card';
import { ScenesAtHand } from '../../src/desk/scenes-at-hand';
import { WorkOnThis } from '../../src/scenes/work-on-this';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { DESK, PRODUCTION, SCENE, show } from '../show';

const WALTZ: ProductionView = { ...PRODUCTION, id: '01PROD00000000000000000002', name: 'Low Water Waltz' };
const ON: DeskView = {
  ...DESK,
  baseline: { revision: 1, line: '14 Static balance' },
  scene: { ...SCENE, binned: false, isUndoable: false },
};
const question = `${DESK.name} works on ${PRODUCTION.name}. Work on Low Water Waltz now?`;

let server: FakeServer;
const serve = (answers: Record<string, unknown> = {}) =>
  (server = new FakeServer({ productions: [PRODUCTION, WALTZ], editDesk: ON, ...answers }));

test('a song that the desk does not work on asks; chosen, the desk goes over, and that can be undone', async () => {
  serve();
  show(<WorkOnThis desk={ON} production={WALTZ} />);
  expect(await screen.findByText(question)).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Work on this now' }));
  await waitFor(() =>
    expect(store.getState().notice.text).toBe(`${DESK.name} works on Low Water Waltz. Nothing was sent to it.`),
  );
  expect(server.sentTo('editDesk')).toEqual([{ worksOn: WALTZ.id }]);
  expect(store.getState().notice.undo?.body).toEqual({ worksOn: null });
});

test('refused, it says why, and has nothing to undo', async () => {
  serve({ editDesk: new Fault('refused-input', 'The song or show is gone.', 'Choose another.') });
  show(<WorkOnThis desk={ON} production={WALTZ} />);
  fireEvent.click(await screen.findByRole('button', { name: 'Work on this now' }));
  await waitFor(() => expect(store.getState().notice.text).toBe('The song or show is gone. Choose another.'));
  expect(store.getState().notice.undo).toBeUndefined();
});

test.each([
  ['the one that stands on the desk', ON, PRODUCTION],
  ['the one that was chosen', { ...ON, worksOn: WALTZ.id }, WALTZ],
  ['any, while nothing stands on the desk', { ...ON, scene: null }, WALTZ],
])('it does not ask of %s', async (_, desk, production) => {
  serve();
  show(
    <>
      <WorkOnThis desk={desk} production={production} />
      <WorkOnThis desk={ON} production={WALTZ} />
    </>,
  );
  await screen.findByText(question);
  expect(screen.getAllByRole('button', { name: 'Work on this now' })).toHaveLength(1);
});

test('what stands is told with its song where the desk works on another, and so are scenes at hand that are none of it', async () => {
  serve();
  const { id, number, name, productionId } = SCENE;
  const desk: DeskView = {
    ...ON,
    worksOn: WALTZ.id,
    atHand: [{ id, number, name, productionId, scope: [] }],
  };
  const now = { desk, profile: quay, state: defaultState(quay), known: true, linked: true };
  show(
    <>
      <CurrentSceneCard now={now} drift={[]} onPress={() => undefined} />
      <ScenesAtHand now={now} held={undefined} />
    </>,
  );
  expect(await screen.findByText(`Of ${PRODUCTION.name}`)).toBeTruthy();
  expect(screen.getByTestId('at-hand-14').textContent).toBe(`14${name}${PRODUCTION.name}`);
});
