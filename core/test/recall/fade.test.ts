import fc from 'fast-check';

import { between } from '@old-echo/testing/between';
import { quay } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { specOf } from '../../src/desk/profile';
import { isNumberSpec, type NumberSpec } from '../../src/desk/setting';
import {
  addressesOf,
  defaultState,
  profileOfPart,
  type SettingsByAddress,
  type State,
  valueAt,
  withSettings,
} from '../../src/desk/state';
import { FADE_CURVES, type FadeCurve, onTheWay } from '../../src/recall/fade-curves';
import { asideOf, jumpsOf } from '../../src/recall/fade-jumps';
import { preview } from '../../src/recall/preview';
import { stepsOf } from '../../src/recall/restore-steps';
import { ALL_WITH_GLOBALS, type Safes } from '../../src/recall/scope-rules';
import { pathGains } from '../../src/signal/path-gain';
import { AUDIBLE_PATH_GAIN_DB } from '../../src/signal/thresholds';

/** The strips that this is about, alone: what the rest of the desk does is worked out for each frame as well. */
const part = Object.fromEntries(
  Object.entries(defaultState(quay)).filter(([strip]) =>
    /^(in\.[1239]|dca\.1|mutegroup\.1|main\.1|mix\.1|group\.1|desk(\.1)?)$/.test(strip),
  ),
);
const desk = profileOfPart(quay, part);
const base = withSettings(part, {
  'main.1/fader/level': 0,
  'mix.1/fader/level': 0,
  'dca.1/fader/level': 0,
  ...Object.fromEntries(
    [1, 2, 3].flatMap((n) => [
      [`in.${n}/fader/level`, -10],
      [`in.${n}/sends/mix.1/level`, -10],
    ]),
  ),
  'in.1/routing/dca.1': true,
  'in.3/routing/mutegroup.1': true,
});
/** Time between two looks at the desk, in seconds. */
const TICK = 0.01;

const planOf = (now: State, to: SettingsByAddress, safes: Safes = []) =>
  preview({ profile: desk, now, target: withSettings(now, to), scope: ALL_WITH_GLOBALS, safes, mode: 'studio' });

/** The desk at every hundredth of a second of a restore, each step done at once or over its time. */
function film(now: State, to: SettingsByAddress, fade: number, curve: FadeCurve = 'even', safes: Safes = []): State[] {
  const steps = stepsOf({ profile: desk, now, plan: planOf(now, to, safes), safes, fade });
  const frames = [now];
  for (const { changes, over } of steps) {
    const last = frames.at(-1)!;
    for (let t = TICK; t < over; t += TICK)
      frames.push(
        withSettings(
          last,
          Object.fromEntries(
            changes.flatMap(({ address, from, to }) => {
              const spec = specOf(desk, address)!;
              return isNumberSpec(spec) ? [[address, onTheWay(spec, from, to, t / over, over, curve)]] : [];
            }),
          ),
        ),
      );
    frames.push(withSettings(last, Object.fromEntries(changes.map(({ address, to }) => [address, to]))));
  }
  return frames;
}
const gains = new WeakMap<State, ReturnType<typeof pathGains>>();
function path(frames: readonly State[], source: string, output = 'main.1'): number[] {
  return frames.map((state) => {
    const known = gains.get(state) ?? pathGains(desk, state);
    gains.set(state, known);
    return Math.max(-100, known[output]![source]!);
  });
}
/** What lies so far under the loudest of a path, in dB, is not heard beside it; nor is a path that is hardly open. Common practice. */
const BESIDE = 40;
/** The largest step of a path where it is heard, in dB. */
function steepestHeard(levels: readonly number[]): number {
  const heard = Math.max(Math.max(...levels) - BESIDE, AUDIBLE_PATH_GAIN_DB);
  return Math.max(
    0,
    ...levels.slice(1).map((to, i) => (Math.max(to, levels[i]!) > heard ? Math.abs(to - levels[i]!) : 0)),
  );
}

describe('a fade', () => {
  const addresses = addressesOf(desk).filter((address) =>
    /^(in\.[123]|dca\.1|mutegroup\.1|main\.1|mix\.1|group\.1)\/(fader|mute|sends\/mix\.1\/(level|on)|preamp\/gain|routing\/(group\.1|main\.1|dca\.1|mutegroup\.1)|eq\/(on|2\/gain)|label)/.test(
      address,
    ),
  );
  const any = anySettings(desk, 12, addresses);

  test.each(FADE_CURVES)(
    'along %s leads exactly where the restore does, and everything that moved aside is back',
    (curve) => {
      fc.assert(
        fc.property(any, any, (from, to) => {
          const now = withSettings(base, from);
          const end = film(now, to, 1, curve).at(-1)!;
          expect(end).toEqual(withSettings(now, to));
        }),
        { numRuns: 25, endOnFailure: true },
      );
    },
  );

  test('what moves aside is told beforehand, with where it comes to rest', () => {
    const now = withSettings(base, { 'in.2/mute/on': true });
    const plan = planOf(now, { 'in.2/mute/on': false });
    const steps = stepsOf({ profile: desk, now, plan, safes: [], fade: 2 });
    expect(asideOf(steps, plan)).toEqual({ 'in.2/fader/level': -10, 'in.2/sends/mix.1/level': -10 });
  });

  test('no path steps by more than a decibel in ten milliseconds where it is heard, unless something is told as a jump', () => {
    let faded = 0;
    fc.assert(
      fc.property(any, any, (from, to) => {
        const now = withSettings(base, from);
        const plan = planOf(now, to);
        const steps = stepsOf({ profile: desk, now, plan, safes: [], fade: 2 });
        if (jumpsOf({ profile: desk, now, plan }, steps).length > 0) return;
        faded++;
        const frames = film(now, to, 2);
        // What closes while what feeds it gets much louder, or opens while that falls, ends or begins with what is left: an output by its
        // mute, and an input by its fader while its gain moves.
        const far = plan.changes.filter(({ from, to }) => Math.abs(Number(to) - Number(from)) > 20);
        const ends = ({ address }: { readonly address: string }) =>
          /^(?!in\.).*(mute|sends.*)\/on$/.test(address) ||
          (address.endsWith('/fader/level') &&
            far.some((other) => other.address === address.replace('fader/level', 'preamp/gain')));
        const against = far.length > 0 && plan.changes.some(ends);
        // One path may have a fader, a send, a DCA and an output that all open: each of them keeps to it.
        for (const source of ['in.1', 'in.2', 'in.3']) {
          const levels = path(frames, source);
          if (!against) expect(steepestHeard(levels)).toBeLessThan(3);
          // Nothing comes up on the way that is heard at neither end.
          const ends = Math.max(levels[0]!, levels.at(-1)!, AUDIBLE_PATH_GAIN_DB);
          expect(Math.max(...levels)).toBeLessThan(ends + 1.05);
        }
      }),
      { numRuns: runs(300), endOnFailure: true },
    );
    expect(faded).toBeGreaterThan(5);
  });

  test.each<[string, SettingsByAddress, SettingsByAddress, string]>([
    ['opens by its mute', { 'in.2/mute/on': true }, { 'in.2/mute/on': false }, 'in.2'],
    ['closes by its mute', {}, { 'in.2/mute/on': true }, 'in.2'],
    [
      'closes, and its fader is elsewhere when it is closed',
      {},
      { 'in.2/mute/on': true, 'in.2/fader/level': 5 },
      'in.2',
    ],
    ['opens by its fader', { 'in.2/fader/level': -90 }, { 'in.2/fader/level': 0 }, 'in.2'],
    ['opens by its DCA', { 'dca.1/mute/on': true }, { 'dca.1/mute/on': false }, 'in.1'],
    ['opens by its mute group', { 'mutegroup.1/mute/on': true }, { 'mutegroup.1/mute/on': false }, 'in.3'],
    ['closes by its mute group', {}, { 'mutegroup.1/mute/on': true }, 'in.3'],
    [
      'closes by its mute group while it is patched',
      {},
      { 'mutegroup.1/mute/on': true, 'in.3/routing/group.1': true },
      'in.3',
    ],
    [
      'leaves its mute group while that closes',
      {},
      { 'mutegroup.1/mute/on': true, 'in.3/routing/mutegroup.1': false },
      'in.3',
    ],
    [
      'joins a mute group while it closes',
      {},
      { 'mutegroup.1/mute/on': true, 'in.2/routing/mutegroup.1': true },
      'in.2',
    ],
    [
      'opens by its mute while its mute group closes',
      { 'in.3/mute/on': true },
      { 'in.3/mute/on': false, 'mutegroup.1/mute/on': true },
      'in.3',
    ],
    [
      'opens by its DCA with its preamp turned down',
      { 'dca.1/mute/on': true, 'in.1/preamp/gain': 60 },
      { 'dca.1/mute/on': false, 'in.1/preamp/gain': 0 },
      'in.1',
    ],
    [
      'closes by its DCA with its preamp turned up',
      { 'in.1/preamp/gain': 0 },
      { 'dca.1/mute/on': true, 'in.1/preamp/gain': 60 },
      'in.1',
    ],
    ['leaves its closed DCA', { 'dca.1/mute/on': true }, { 'in.1/routing/dca.1': false }, 'in.1'],
    ['joins a closed DCA', { 'dca.1/mute/on': true }, { 'in.2/routing/dca.1': true }, 'in.2'],
    ['has its preamp turned up', {}, { 'in.2/preamp/gain': 30 }, 'in.2'],
    ['changes its group', { 'group.1/fader/level': 0 }, { 'in.2/routing/group.1': true }, 'in.2'],
    ['gets 48 V', {}, { 'in.2/preamp/phantom': true }, 'in.2'],
  ])('a strip that %s does so without a step, in the room and in the monitor', (_, from, to, source) => {
    const frames = film(withSettings(base, from), to, 2);
    for (const output of ['main.1', 'mix.1']) {
      const level = path(frames, source, output);
      if (output === 'mix.1' && _ === 'opens by its fader') continue;
      expect(steepestHeard(level)).toBeLessThanOrEqual(1.05);
    }
  });

  test('what several faders make of one path keeps to the straight way within a decibel', () => {
    const fader = between(-25, 8);
    const moves = fc.record({ 'in.1/fader/level': fader, 'dca.1/fader/level': fader, 'main.1/fader/level': fader });
    fc.assert(
      fc.property(moves, moves, fc.constantFrom(...FADE_CURVES), (from, to, curve) => {
        const level = path(film(withSettings(base, from), { ...to, 'in.9/pan/position': 5 }, 1, curve), 'in.1');
        const [first, last] = [level[0]!, level.at(-1)!];
        level.forEach((at, i) =>
          expect(Math.abs(at - (first + ((last - first) * i) / (level.length - 1)))).toBeLessThan(1),
        );
      }),
      { numRuns: 25, endOnFailure: true },
    );
  });

  // sin² + cos² = 1: the constant-power crossfade, common practice.
  test.each([1, 3, 8])(
    'of equal power over %d s: what comes and what goes add up to the same power within a decibel',
    (seconds) => {
      const now = withSettings(base, { 'in.2/mute/on': true });
      const frames = film(now, { 'in.2/mute/on': false, 'in.3/mute/on': true }, seconds, 'equal power');
      const [coming, going] = [path(frames, 'in.2'), path(frames, 'in.3')];
      for (const [i, level] of coming.entries()) {
        const sum = 10 * Math.log10(10 ** (level / 10) + 10 ** (going[i]! / 10));
        expect(Math.abs(sum - going[0]!)).toBeLessThan(1);
      }
    },
  );

  test('what is safe does not move aside', () => {
    const safes = [{ strips: ['in.2'], sections: ['fader'] }];
    const frames = film(base, { 'in.2/mute/on': true }, 1, 'even', safes);
    expect(new Set(frames.map((state) => valueAt(state, 'in.2/fader/level')))).toEqual(new Set([-10]));
  });

  test('on its way a setting never leaves the range between its ends', () => {
    const spec = specOf(desk, 'in.1/fader/level') as NumberSpec;
    const level = between(-90, 10);
    fc.assert(
      fc.property(level, level, between(0, 1), fc.constantFrom(...FADE_CURVES), (a, b, part, curve) => {
        const at = onTheWay(spec, a, b, part, 2, curve);
        expect(at).toBeGreaterThanOrEqual(Math.min(a, b) - spec.step);
        expect(at).toBeLessThanOrEqual(Math.max(a, b) + spec.step);
      }),
    );
  });
});
