import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { RippleRequest, RippleView } from '@old-echo/core/contracts/ripple';
import { offsetBy } from '@old-echo/core/desk/batch-edit';
import { diffStates } from '@old-echo/core/desk/diff-states';
import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { RippleScreen } from '../../src/recall/ripple-screen';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, isOff, PRODUCTION, SCENE, show } from '../show';

jest.setTimeout(60_000);

const meant = withSettings(defaultState(quay), { 'in.1/label/name': 'Wren vox', 'in.1/fader/level': -20 });
/** Two settings have moved on the desk: a level, and what a level is not. */
const now = withSettings(meant, { 'in.1/fader/level': -14, 'in.2/pan/position': 30 });
const LATER = [
  { ...SCENE, id: '01LATER1000000000000000000', number: 15, place: 15, name: 'Second song', revision: 4 },
  { ...SCENE, id: '01LATER2000000000000000000', number: 16, place: 16, name: 'Third song', revision: 2 },
  { ...SCENE, id: '01LATER3000000000000000000', number: 17, place: 17, name: 'Encore', protected: true },
];
const EARLIER = { ...SCENE, id: '01EARLY1000000000000000000', number: 3, place: 3, name: 'Opener' };
const RIPPLE: RippleView = {
  id: '01RIPPLE000000000000000000',
  status: 'running',
  done: 1,
  total: 2,
  why: '',
  scenes: [],
  undone: false,
};
const standing: NonNullable<DeskView['scene']> = {
  id: SCENE.id,
  number: SCENE.number,
  name: SCENE.name,
  place: SCENE.place,
  productionId: SCENE.productionId,
  versionId: SCENE.versionId,
  binned: false,
  revision: 1,
  isUndoable: false,
};

/** What each chosen scene would become; the second has the pan already. */
const previews = ({ settings, offsets, scenes }: RippleRequest) =>
  scenes.map(({ id }) => {
    const scene = id === LATER[1]?.id ? withSettings(meant, { 'in.2/pan/position': 30 }) : meant;
    const now = withSettings(scene, { ...settings, ...offsetBy(quay, scene, offsets) });
    return { id, changes: diffStates(quay, scene, now) };
  });

let server: FakeServer;
async function ripple(desk: Partial<DeskView> = {}, answers: Record<string, unknown> = {}) {
  router.params = { desk: DESK.id };
  router.navigate.mockClear();
  server = new FakeServer({
    profile: profileJson('quay-48'),
    desks: [DESK],
    productions: [PRODUCTION],
    baseline: meant,
    scenes: { scenes: [...LATER, SCENE, EARLIER].sort((a, b) => b.place - a.place), total: 5, more: false },
    previewRipple: previews,
    startRipple: RIPPLE,
    ripple: RIPPLE,
    ...answers,
  });
  follow({ ...DESK, baseline: { revision: 1, line: '14 Static balance' }, scene: standing, ...desk }, now);
  const shown = show(<RippleScreen />);
  await screen.findByText('15 Second song');
  return shown;
}
const button = (name: RegExp | string) => screen.getByRole('button', { name });
const row = (testID: string) => screen.getByTestId(testID);
const sent = () => server.sentTo('startRipple') as RippleRequest[];

describe('a change on the desk, for later scenes', () => {
  test('goes to every later scene that is not protected, with its revision; earlier ones are not offered', async () => {
    await ripple();
    expect(screen.queryByText(/Opener/)).toBeNull();
    expect(screen.getByText('Protected: unprotect it first')).toBeTruthy();
    fireEvent.click(await screen.findByRole('button', { name: 'Apply to 2 scenes' }));
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]?.scenes).toEqual([
      { id: LATER[0]?.id, revision: 4 },
      { id: LATER[1]?.id, revision: 2 },
    ]);
    expect(sent()[0]?.settings).toEqual({ 'in.1/fader/level': -14, 'in.2/pan/position': 30 });
  });

  test('a protected scene cannot be chosen', async () => {
    await ripple();
    fireEvent.click(row('into-17'));
    fireEvent.click(await screen.findByRole('button', { name: 'Apply to 2 scenes' }));
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]?.scenes.map(({ id }) => id)).not.toContain(LATER[2]?.id);
  });

  test('what is left out is not sent, and scenes that have the rest already are not written', async () => {
    await ripple();
    fireEvent.click(row('ripple-in.1/fader/level'));
    expect(await screen.findByText('Has these values already')).toBeTruthy();
    fireEvent.click(await screen.findByRole('button', { name: 'Apply to 1 scene' }));
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]?.settings).toEqual({ 'in.2/pan/position': 30 });
    expect(sent()[0]?.scenes.map(({ id }) => id)).toEqual([LATER[0]?.id]);
  });

  test('by as much as here, a level goes as an amount and what is no level as its value', async () => {
    await ripple();
    fireEvent.click(screen.getByRole('tab', { name: 'By as much as here' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Apply to 2 scenes' }));
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]?.offsets).toEqual({ 'in.1/fader/level': 6 });
    expect(sent()[0]?.settings).toEqual({ 'in.2/pan/position': 30 });
  });

  test('of the night, rides stay out until they are chosen', async () => {
    await ripple({ mode: 'live' });
    expect(screen.getByText('Rides')).toBeTruthy();
    expect(await screen.findByRole('button', { name: 'Apply to 1 scene' })).toBeTruthy();
    fireEvent.click(row('ripple-in.1/fader/level'));
    expect(await screen.findByRole('button', { name: 'Apply to 2 scenes' })).toBeTruthy();
    fireEvent.click(row('ripple-in.1/fader/level'));
    fireEvent.click(await screen.findByRole('button', { name: 'Apply to 1 scene' }));
    await waitFor(() => expect(sent()).toHaveLength(1));
    expect(sent()[0]?.settings).toEqual({ 'in.2/pan/position': 30 });
  });
});

describe('nothing is written', () => {
  test('while the show is locked', async () => {
    await ripple({ showLock: true });
    expect(isOff(button('The show is locked'))).toBe(true);
  });

  test('where no scene is chosen, or no setting', async () => {
    await ripple();
    await screen.findByRole('button', { name: 'Apply to 2 scenes' });
    fireEvent.click(button('None'));
    expect(isOff(await screen.findByRole('button', { name: 'No change' }))).toBe(true);
    fireEvent.click(button('All'));
    await screen.findByRole('button', { name: 'Apply to 2 scenes' });
    fireEvent.click(button('Leave all out'));
    expect(await screen.findByText(/Nothing is chosen/)).toBeTruthy();
    expect(isOff(button('No change'))).toBe(true);
  });

  test('where someone changed a scene meanwhile: what and what to do stand beside the button', async () => {
    await ripple({}, { startRipple: new Fault('conflict', 'Second song was changed meanwhile.', 'Look at it again.') });
    fireEvent.click(await screen.findByRole('button', { name: 'Apply to 2 scenes' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Second song was changed meanwhile.Look at it again.');
    expect(isOff(button('Apply to 2 scenes'))).toBe(false);
  });

  test('where nothing has moved', async () => {
    await ripple();
    follow({ ...DESK, baseline: { revision: 1, line: '14 Static balance' }, scene: standing }, meant);
    expect(await screen.findByText('Nothing has drifted')).toBeTruthy();
  });
});

describe('while it is written', () => {
  const during = async (view: Partial<RippleView>) => {
    await ripple({}, { ripple: { ...RIPPLE, ...view } }).then(({ unmount }) => unmount());
    router.params = { desk: DESK.id, job: RIPPLE.id };
    show(<RippleScreen />);
  };

  test('a page opened afresh follows it on, and can cancel it', async () => {
    await during({});
    expect(await screen.findByText('Applying to other scenes')).toBeTruthy();
    server.change({ cancelRipple: {} });
    fireEvent.click(button('Cancel'));
    await waitFor(() => expect(server.sentTo('cancelRipple')).toHaveLength(1));
  });

  test('its end is said with a way to take it back, and leads back', async () => {
    await during({ status: 'done', scenes: [{ old: LATER[0]?.id ?? '', id: 'new' }] });
    await waitFor(() => expect(router.navigate).toHaveBeenCalledWith(`/desk/${DESK.id}`));
    const { text, undo } = store.getState().notice;
    expect(text).toBe('Applied to 1 scene. The earlier ones are in the bin.');
    expect(undo).toMatchObject({ url: expect.stringContaining(RIPPLE.id) as string });
  });

  test.each<[RippleView['status'], string, string]>([
    ['cancelled', '', 'Cancelled. No scene was changed.'],
    ['failed', 'The server was stopped.', 'The server was stopped.'],
  ])('%s, it says that nothing was changed, and can be tried again', async (status, why, words) => {
    await during({ status, why });
    expect(await screen.findByText(words)).toBeTruthy();
    expect(await screen.findByRole('button', { name: 'Apply to 2 scenes' })).toBeTruthy();
  });
});
