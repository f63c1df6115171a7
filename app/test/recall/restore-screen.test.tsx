import { fireEvent, screen, waitFor } from '@testing-library/react';

import {
  type RestoreProgress,
  type RestoreReport,
  type RestoreView,
  sceneRecall,
} from '@old-echo/core/contracts/restore';
import { defaultState, withSettings } from '@old-echo/core/desk/state';
import type { PlannedChange } from '@old-echo/core/recall/planned-changes';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { RestoreScreen } from '../../src/recall/restore-screen';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, isOff, SCENE, show, tell } from '../show';

const ID = '01RESTORE00000000000000000';

jest.setTimeout(30_000);
router.params = { desk: '01DESK00000000000000000000', restore: '01RESTORE00000000000000000' };

const state = withSettings(defaultState(quay), { 'in.1/label/name': 'Wren vox', 'in.1/fader/level': -20 });
const change = (address: string, from: number, to: number): PlannedChange => {
  const [strip = '', section = '', rest = ''] = address.split('/');
  return { address, strip, section, key: `${section}/${rest}`, from, to, stage: 'level' };
};
const CHANGES = [change('in.1/fader/level', -20, -5), change('in.2/pan/position', 0, 30)];

const progress: RestoreProgress = { stage: 'level', done: 1, total: 2, back: false, cancel: null };
const running: RestoreView = {
  id: ID,
  deskId: DESK.id,
  sceneId: SCENE.id,
  sceneName: SCENE.name,
  sceneNumber: SCENE.number,
  status: 'running',
  recall: sceneRecall(DESK.id, SCENE.id, ALL_EXCEPT_GLOBALS),
  fade: 0,
  curve: 'even',
  by: 'Wren',
  answered: [],
  changes: 2,
  wayBack: { sceneId: '01BACK00000000000000000000', scope: ALL_EXCEPT_GLOBALS },
  progress,
  marks: null,
  report: null,
  startedAt: '2026-11-25T20:00:00.000Z',
  endedAt: null,
};
const report: RestoreReport = { confirmed: 2, unconfirmed: [], handled: [], leftMuted: [], milliseconds: 740 };
const ended = (status: RestoreView['status'], of: Partial<RestoreReport> = {}): RestoreView => ({
  ...running,
  status,
  progress: null,
  report: status === 'interrupted' ? null : { ...report, ...of },
  endedAt: '2026-11-25T20:00:01.000Z',
});

let server: FakeServer;
async function at(restore: RestoreView, desk = DESK) {
  server = new FakeServer({
    profile: profileJson('quay-48'),
    restore,
    journal: { changes: CHANGES, guarded: [] },
    sceneState: state,
    cancelRestore: {},
  });
  router.navigate.mockClear();
  follow(desk, state);
  show(<RestoreScreen />);
  await screen.findAllByText(/Static balance/);
}
const button = (name: string) => screen.getByRole('button', { name });
const asked = () => server.sentTo('cancelRestore');

describe('at work', () => {
  test('it says where it is, and shows every level on its way', async () => {
    await at(running);
    expect(screen.getByText('Restoring 14 Static balance · Quay 48')).toBeTruthy();
    expect(screen.getByText('1 of 2')).toBeTruthy();
    await waitFor(() => expect(screen.getByTestId('moving').textContent).toContain('Wren vox−20.0 → −5.0'));
    tell({ type: 'settings-changed', settings: { 'in.1/fader/level': -5 } });
    await waitFor(() => expect(screen.getByTestId('moving').textContent).not.toContain('→'));
  });

  test('Stop is one touch away, and is asked for', async () => {
    await at(running);
    fireEvent.click(button('Stop'));
    await waitFor(() => expect(asked()).toEqual([{ how: 'stop' }]));
  });

  test('Escape stops as well', async () => {
    await at(running);
    fireEvent.keyDown(document.body, { key: 'Escape' });
    await waitFor(() => expect(asked()).toEqual([{ how: 'stop' }]));
  });

  test.each([
    [0, null],
    [6, 'roll back'],
  ])('a fade of %d s is rolled back as a fade where it is one', async (fade, how) => {
    await at({ ...running, fade });
    if (how === null) return expect(screen.queryByRole('button', { name: 'Roll back as a fade' })).toBeNull();
    fireEvent.click(button('Roll back as a fade'));
    await waitFor(() => expect(asked()).toEqual([{ how }]));
  });

  test.each<[RestoreProgress['cancel'], boolean, boolean, boolean]>([
    [null, false, false, false],
    ['stop', true, false, false],
    ['roll back', true, true, false],
    ['roll back at once', true, true, true],
  ])('once %s was asked for, only what goes further can be', async (cancel, stop, fade, atOnce) => {
    await at({ ...running, fade: 6, progress: { ...progress, cancel } });
    expect(['Stop', 'Roll back as a fade', 'Roll back at once'].map((name) => isOff(button(name)))).toEqual([
      stop,
      fade,
      atOnce,
    ]);
  });

  test('what the channel tells is shown at once; that it has ended, once it is stored', async () => {
    await at(running);
    tell({ type: 'restore', restore: { ...running, progress: { ...progress, stage: 'verify', done: 2 } } });
    expect(screen.getByText('2 of 2')).toBeTruthy();
    server.change({ restore: ended('confirmed') });
    expect(await screen.findByText('Restored 2 settings. All confirmed.', {}, { timeout: 8000 })).toBeTruthy();
  });
});

describe('ended', () => {
  test('confirmed: how long it took, what it was, and the way back', async () => {
    await at(ended('confirmed'));
    expect(await screen.findByText(/It took 740 ms\./)).toBeTruthy();
    // Until the journal is there nothing is claimed of it.
    expect(screen.queryByText(/Nothing had to be sent/)).toBeNull();
    await waitFor(() =>
      expect(screen.getByTestId('what-moved').textContent).toContain('2 settings on Wren vox and Input 2.'),
    );
    fireEvent.click(button('Way back'));
    expect(router.navigate).toHaveBeenCalledWith(
      `/desk/${DESK.id}/restore/01BACK00000000000000000000/preview?wayBackOf=${ID}`,
    );
  });

  test('a way back that was deleted for good is not offered', async () => {
    await at({ ...ended('confirmed'), wayBack: null });
    expect(isOff(button('Way back'))).toBe(true);
  });

  test('incomplete: each setting that is not as it was to be, with what was read and why', async () => {
    const why = 'Someone moved it meanwhile.';
    await at(
      ended('incomplete', {
        confirmed: 1,
        unconfirmed: [{ address: 'in.1/fader/level', wanted: -5, found: -12, why }],
      }),
    );
    expect(screen.getByText('1 of 2 settings confirmed')).toBeTruthy();
    expect(screen.getByText('should be −5.0 dB, last read −12.0 dB')).toBeTruthy();
    expect(screen.getByText(why)).toBeTruthy();
    fireEvent.click(button('Finish'));
    expect(router.navigate).toHaveBeenCalledWith(`/desk/${DESK.id}/restores/${ID}/resume?how=finish`);
  });

  test.each([
    ['interrupted', 'Interrupted'],
    ['cancelled', '2 of 2 settings confirmed'],
  ] as const)('%s: it can be finished or rolled back, each by a preview', async (status, title) => {
    await at(ended(status));
    expect(screen.getByText(title)).toBeTruthy();
    fireEvent.click(button('Roll back'));
    expect(router.navigate).toHaveBeenCalledWith(`/desk/${DESK.id}/restores/${ID}/resume?how=roll%20back`);
  });

  test('nothing more is sent to a desk that does not answer', async () => {
    await at(ended('interrupted'), { ...DESK, link: { state: 'unlinked', why: 'Quay 48 stopped answering.' } });
    expect([isOff(button('Finish')), isOff(button('Roll back')), isOff(button('Done'))]).toEqual([true, true, false]);
  });

  test('what the desk cannot be asked for is told as sent, and not as confirmed', async () => {
    await at(ended('confirmed', { confirmed: 1, unasked: ['in.1/label/name'] }));
    expect(screen.getByText(/1 of 2 confirmed, 1 sent\.$/)).toBeTruthy();
    expect(screen.getByText('Every setting that this desk can be asked for was read back.')).toBeTruthy();
    expect(screen.getByText('1 setting sent, not confirmed')).toBeTruthy();
    expect(screen.queryByText(/All confirmed|Every setting was read back/)).toBeNull();
  });

  test('what a hand took, what stayed muted and what could not fade stand on top, by name', async () => {
    await at(
      ended('incomplete', {
        handled: ['Wren vox'],
        leftMuted: ['Fiddle'],
        jumped: ['in.1/pan/position'],
      }),
    );
    expect(screen.getByText('Moved by hand, left alone: Wren vox')).toBeTruthy();
    expect(screen.getByText('Still muted: Fiddle')).toBeTruthy();
    expect(screen.getByText('1 setting could not fade')).toBeTruthy();
  });
});
