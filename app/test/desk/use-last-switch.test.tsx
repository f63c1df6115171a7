import { act, screen, waitFor } from '@testing-library/react';

import type { RestoreView } from '@old-echo/core/contracts/restore';
import { defaultState, valueAt, withSettings } from '@old-echo/core/desk/state';
import { quay } from '@old-echo/testing/profiles';

import { CurrentSceneCard } from '../../src/desk/current-scene-card';
import { StripRow } from '../../src/desk/strip-row';
import { useLastSwitch } from '../../src/desk/use-last-switch';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { DESK, follow, SCENE, show, tell } from '../show';

const MOVED = {
  'in.1/fader/level': -5.5,
  'in.5/mute/on': true,
  'in.2/pan/position': 30,
  'in.3/sends/mix.1/level': -12,
};
const start = withSettings(defaultState(quay), {
  'in.1/fader/level': -9.5,
  'in.2/fader/level': -10,
  'in.3/fader/level': -10,
  'in.5/fader/level': -10,
  'main.1/fader/level': 0,
  'in.1/label/name': 'Fiddle',
});
const after = withSettings(start, MOVED);
const RESTORE: RestoreView = {
  id: '01RESTORE0000000000000000X',
  deskId: DESK.id,
  sceneId: SCENE.id,
  sceneName: SCENE.name,
  sceneNumber: 14,
  status: 'confirmed',
  recall: { deskId: DESK.id, scope: [], onto: [], withPatch: false, relativeTo: null, muteFirst: [] },
  fade: 0,
  curve: 'even',
  by: '',
  answered: [],
  changes: 4,
  wayBack: null,
  progress: null,
  marks: null,
  report: { confirmed: 4, unconfirmed: [], handled: [], leftMuted: [], milliseconds: 40 },
  startedAt: '2026-11-25T20:00:00.000Z',
  endedAt: '2026-11-25T20:00:01.000Z',
};

function Part() {
  useLastSwitch(quay);
  const row = {
    profile: quay,

    safe: 'none',
    chosen: false,
    onOpen: () => undefined,
    onMove: undefined,
  } as const;
  return (
    <>
      <CurrentSceneCard
        now={{
          desk: { ...DESK, baseline: { revision: 1, line: '14 Static balance' } },
          profile: quay,
          state: after,
          known: true,
          linked: true,
        }}
        drift={[]}
        onPress={() => undefined}
      />
      <StripRow {...row} was={after['in.1']} strip="in.1" />
      <StripRow {...row} was={after['in.9']} strip="in.9" />
    </>
  );
}

const row = (strip: string) => screen.getByTestId(`strip-${strip}`).textContent;
const line = () => screen.queryByTestId('last-switch')?.textContent;
const changes = Object.entries(MOVED).map(([address, to]) => {
  const [strip = '', ...key] = address.split('/');
  return { address, strip, key: key.join('/'), from: valueAt(start, address), to };
});

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

function switchTo(restore: RestoreView) {
  new FakeServer({ journal: { changes, guarded: [] }, productions: [] });
  follow(DESK, after);
  show(<Part />);
  expect(line()).toBeUndefined();
  tell({ type: 'restore', restore });
}

test('after a switch one line says what one hears of it most, and its strips show where they were for two seconds', async () => {
  switchTo(RESTORE);
  await waitFor(() => expect(line()).toBeDefined());
  expect(line()).toMatch(/^Last restore: .*muted/);
  for (const part of ['Fiddle −9.5 to −5.5 dB', 'Input 5 muted', ' and 1 more']) expect(line()).toContain(part);
  expect([row('in.1'), row('in.9')]).toEqual([expect.stringContaining('was −9.5'), expect.not.stringContaining('was')]);
  act(() => jest.advanceTimersByTime(2100));
  expect(row('in.1')).not.toContain('was');
  expect(line()).toBeDefined();
});

test('what was not confirmed is not told as changed', async () => {
  const unconfirmed = Object.keys(MOVED).filter((address) => !address.startsWith('in.1/'));
  const report = {
    ...RESTORE.report!,
    unconfirmed: unconfirmed.map((address) => ({ address, wanted: 0, found: null, why: '' })),
  };
  switchTo({ ...RESTORE, status: 'incomplete', report });
  await waitFor(() => expect(line()).toBe('Last restore: Fiddle −9.5 to −5.5 dB'));
});

test.each(['running', 'cancelled', 'rolled back', 'interrupted'] as const)(
  'nothing is told of one that is %s',
  async (status) => {
    switchTo({ ...RESTORE, status });
    await act(() => jest.advanceTimersByTimeAsync(50));
    expect([line(), store.getState().lastSwitch.before]).toEqual([undefined, {}]);
  },
);
