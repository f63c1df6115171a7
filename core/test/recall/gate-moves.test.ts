import fc from 'fast-check';

import { quay } from '@old-echo/testing/profiles';

import { defaultState, type SettingsByAddress, type State, valueAt, withSettings } from '../../src/desk/state';
import { gateMoves, MoveGestures } from '../../src/recall/gate-moves';
import type { Safes } from '../../src/recall/scope-rules';
import { DEFAULT_THRESHOLDS } from '../../src/signal/thresholds';

const FADER = 'in.1/fader/level';
const open = withSettings(defaultState(quay), {
  [FADER]: -20,
  // Louder than all that is moved: the sum of an output is another matter.
  'in.2/fader/level': 6,
  'main.1/fader/level': 0,
  'in.1/mute/on': false,
  'main.1/mute/on': false,
});

const gate = (
  moved: SettingsByAddress,
  {
    mode = 'live',
    safes = [],
    before = {},
    confirmed = [],
  }: Partial<{
    mode: 'studio' | 'live';
    safes: Safes;
    before: SettingsByAddress;
    confirmed: string[];
  }> = {},
  now: State = open,
) => gateMoves({ profile: quay, now, before, moved, safes, mode, thresholds: DEFAULT_THRESHOLDS }, confirmed);
const kinds = (...args: Parameters<typeof gate>) => gate(...args).stops.map(({ kind }) => kind);

describe('in live mode a hand on the screen', () => {
  test.each<[string, SettingsByAddress, string[]]>([
    ['raises a path by less than the threshold', { [FADER]: -14.5 }, []],
    ['raises it by the threshold and more', { [FADER]: -13 }, ['louder']],
    ['takes it down as far as it goes', { [FADER]: -90 }, []],
    ['mutes', { 'in.1/mute/on': true }, []],
    ['raises the main by less than its threshold', { 'main.1/fader/level': 2 }, []],
    ['raises the main by more', { 'main.1/fader/level': 9.5 }, ['louder']],
    ['names a strip', { 'in.1/label/name': 'Wren vox' }, []],
    ['pans', { 'in.1/pan/position': -20 }, []],
  ])('%s', (_, moved, stops) => {
    expect(kinds(moved)).toEqual(stops);
  });

  test('switches phantom power: held for where the strip is heard, as in a restore', () => {
    expect(kinds({ 'in.2/preamp/phantom': true })).toEqual(['phantom']);
    expect(kinds({ 'in.9/preamp/phantom': true })).toEqual([]);
  });

  test('opens a mute that nothing was heard through', () => {
    const shut = withSettings(open, { 'in.1/mute/on': true });
    expect(kinds({ 'in.1/mute/on': false }, {}, shut)).toEqual(['louder']);
  });

  test('what was held for passes, and nothing else', () => {
    const [stop] = gate({ [FADER]: -5 }).stops;
    expect(kinds({ [FADER]: -5 }, { confirmed: [stop!.id] })).toEqual([]);
    expect(kinds({ [FADER]: 10 }, { confirmed: [stop!.id] })).toEqual(['louder']);
    expect(kinds({ [FADER]: -5 }, { confirmed: ['louder/another'] })).toEqual(['louder']);
  });
});

test('in the studio nothing of it has to be held for', () => {
  expect(kinds({ [FADER]: 10, 'in.9/preamp/phantom': true }, { mode: 'studio' })).toEqual([]);
});

test('what is safe is named, in both modes; what is beside it is not', () => {
  const safes: Safes = [{ strips: ['in.1'], sections: ['fader'] }];
  for (const mode of ['studio', 'live'] as const)
    expect(gate({ [FADER]: -21, 'in.1/pan/position': 3 }, { mode, safes }).safe).toEqual([FADER]);
});

describe('gestures', () => {
  test('many small steps up are one large one, until the hand has rested for a second', () => {
    const gestures = new MoveGestures();
    let now = open;
    const step = (level: number, at: number) => {
      const before = gestures.before(now, { [FADER]: level }, at);
      const stops = kinds({ [FADER]: level }, { before }, now);
      if (stops.length === 0) now = withSettings(now, { [FADER]: level });
      return stops;
    };
    expect(step(-18, 0)).toEqual([]);
    expect(step(-16, 900)).toEqual([]);
    expect(step(-13, 1800)).toEqual(['louder']);
    expect(step(-13, 2700)).toEqual(['louder']);
    expect(step(-13, 3700)).toEqual([]);
  });

  test('a named one goes on however slowly its moves arrive: a slow phone is no way round', () => {
    const gestures = new MoveGestures();
    const at = (level: number) => withSettings(open, { [FADER]: level });
    gestures.before(open, { [FADER]: -18 }, 0, 'drag');
    expect(gestures.before(at(-18), { [FADER]: -16 }, 30_000, 'drag')).toEqual({ [FADER]: -20 });
    expect(gestures.before(at(-16), { [FADER]: -15 }, 30_900, 'next')).toEqual({ [FADER]: -20 });
    expect(gestures.before(at(-15), { [FADER]: -14 }, 32_000, 'another')).toEqual({ [FADER]: -15 });
  });

  test('what was held for is where the next one begins', () => {
    const gestures = new MoveGestures();
    gestures.before(open, { [FADER]: -5 }, 0);
    gestures.end([FADER]);
    const now = withSettings(open, { [FADER]: -5 });
    expect(gestures.before(now, { [FADER]: -4 }, 10)).toEqual({ [FADER]: -5 });
  });

  test('what a hand on the desk took down meanwhile counts from there; a drag down and up again does not', () => {
    const gestures = new MoveGestures();
    const at = (level: number) => withSettings(open, { [FADER]: level });
    gestures.before(at(-5), { [FADER]: 5 }, 0);
    expect(gestures.before(at(-30), { [FADER]: -10 }, 100)).toEqual({ [FADER]: -30 });
    const drag = new MoveGestures();
    drag.before(at(-5), { [FADER]: -30 }, 0);
    expect(drag.before(at(-30), { [FADER]: -6 }, 100)).toEqual({ [FADER]: -5 });
  });

  test('controls have gestures of their own', () => {
    const gestures = new MoveGestures();
    gestures.before(open, { [FADER]: -18 }, 0);
    const now = withSettings(open, { [FADER]: -18, 'in.2/fader/level': -30 });
    expect(gestures.before(now, { [FADER]: -17, 'in.2/fader/level': -29 }, 500)).toEqual({
      [FADER]: -20,
      'in.2/fader/level': -30,
    });
  });

  test('whatever the steps, without a hold no gesture takes a fader further up than its threshold', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ to: fc.integer({ min: -200, max: 100 }), pause: fc.integer({ min: 10, max: 5000 }) }), {
          minLength: 1,
          maxLength: 12,
        }),
        (steps) => {
          const gestures = new MoveGestures();
          let [now, at] = [open, 0];
          for (const { to, pause } of steps) {
            at += pause;
            const moved = { [FADER]: to / 10 };
            const before = gestures.before(now, moved, at, 'drag');
            if (kinds(moved, { before }, now).length === 0) now = withSettings(now, moved);
            // By more than the threshold is what asks; by just that is not.
            expect(Number(valueAt(now, FADER))).toBeLessThanOrEqual(-20 + DEFAULT_THRESHOLDS.path);
          }
        },
      ),
      { numRuns: 40 },
    );
  });
});
