import fc from 'fast-check';

import { skiff } from '@old-echo/testing/profiles';
import { anySettings, anyState } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { addressesOf, defaultState, type SettingsByAddress, valueAt, withSettings } from '../../src/desk/state';
import { baselineAfterRestore, type EndedRestore } from '../../src/recall/baseline-after-restore';
import { capturedBaseline, replacedBy } from '../../src/scenes/baseline';

const plain = defaultState(skiff);
const ferry = { sceneId: 'ferry', number: 4, name: 'Night ferry' };
const reel = { sceneId: 'reel', number: 5, name: 'Saltmarsh reel' };
const before = capturedBaseline(ferry, plain);
const CHOSEN = { 'in.1/fader/level': -10, 'in.2/mute/on': true };
/** What a restore chose, by address. */
const of = (settings: SettingsByAddress) => withSettings({}, settings);

/** What the desk is meant to hold of some settings, once a restore of them has ended on a desk. */
const after = (end: Partial<EndedRestore>, onDesk: SettingsByAddress = {}, was: typeof before | undefined = before) =>
  baselineAfterRestore(skiff, withSettings(plain, onDesk), was, {
    chosen: of(CHOSEN),
    unconfirmed: [],
    source: reel,
    toBaseline: false,
    ...end,
  });
const meant = (end: Partial<EndedRestore>, onDesk?: SettingsByAddress, addresses = Object.keys(CHOSEN)) => {
  const baseline = after(end, onDesk);
  return baseline && addresses.map((address) => valueAt(baseline.state, address));
};
const DEFAULTS = Object.keys(CHOSEN).map((address) => valueAt(plain, address));

describe('what the desk is meant to hold after a restore', () => {
  test.each<[string, Partial<EndedRestore>, SettingsByAddress | undefined, unknown]>([
    ['all that was confirmed', {}, undefined, [-10, true]],
    ['not what was not read back', { unconfirmed: ['in.2/mute/on'] }, undefined, [-10, DEFAULTS[1]]],
    ['nothing else, where it led to what was meant before', { toBaseline: true }, undefined, undefined],
    [
      'finished: what the first had sent and still stands as well',
      { chosen: of({ 'in.2/mute/on': true }), finishes: of(CHOSEN) },
      CHOSEN,
      [-10, true],
    ],
    [
      'finished: not what was moved away since the first sent it',
      { chosen: of({ 'in.2/mute/on': true }), finishes: of(CHOSEN) },
      { 'in.1/fader/level': -20, 'in.2/mute/on': true },
      [DEFAULTS[0], true],
    ],
    [
      'finished: what stands within half a step stands',
      { chosen: {}, finishes: of(CHOSEN) },
      { 'in.1/fader/level': -10.04 },
      [-10, DEFAULTS[1]],
    ],
    [
      'finished, of one that led to what was meant before',
      { toBaseline: true, finishes: of(CHOSEN) },
      CHOSEN,
      undefined,
    ],
  ])('%s', (_, end, onDesk, expected) => {
    expect(meant(end, onDesk)).toEqual(expected);
  });

  test('its source is the scene it came from, beside that of the rest', () => {
    expect(after({})?.sources).toEqual([ferry, reel]);
  });

  test('a restore of which nothing was confirmed leaves it as it was', () => {
    expect(after({ unconfirmed: Object.keys(CHOSEN) })).toEqual(before);
  });

  test('where nothing was ever meant, it is what was restored', () => {
    const baseline = baselineAfterRestore(skiff, plain, undefined, {
      chosen: of(CHOSEN),
      unconfirmed: [],
      source: reel,
      toBaseline: false,
    });
    expect(baseline?.state).toEqual(withSettings({}, CHOSEN));
    expect(baseline?.sources).toEqual([reel]);
  });

  test('a way back whose own settings failed gives the rest back only', () => {
    const replaced = replacedBy(before, of(CHOSEN));
    const restored = after({});
    const back = after(
      {
        takesBack: replaced,
        unconfirmed: ['in.2/mute/on'],
        chosen: of({ 'in.1/fader/level': valueAt(plain, 'in.1/fader/level') ?? 0, 'in.2/mute/on': false }),
      },
      CHOSEN,
      restored,
    );
    expect(back && valueAt(back.state, 'in.1/fader/level')).toBe(DEFAULTS[0]);
    expect(back && valueAt(back.state, 'in.2/mute/on')).toBe(true);
  });

  test('a restore and its way back, both confirmed, leave what was meant before', () => {
    fc.assert(
      fc.property(anyState(skiff, 20), anySettings(skiff, 20), (state, chosen) => {
        const start = capturedBaseline(ferry, state);
        const done = baselineAfterRestore(skiff, withSettings(state, chosen), start, {
          chosen: of(chosen),
          unconfirmed: [],
          source: reel,
          toBaseline: false,
        });
        const back = Object.fromEntries(Object.keys(chosen).map((address) => [address, valueAt(state, address) ?? 0]));
        const again = baselineAfterRestore(skiff, state, done, {
          chosen: of(back),
          unconfirmed: [],
          source: { sceneId: 'way back', number: 0, name: 'Before' },
          toBaseline: false,
          takesBack: replacedBy(start, of(chosen)),
        });
        expect(again).toEqual(start);
      }),
      { numRuns: runs(100) },
    );
  });

  test('nothing but what was chosen is meant otherwise than before', () => {
    fc.assert(
      fc.property(anySettings(skiff, 20), fc.func(fc.boolean()), (chosen, fails) => {
        const unconfirmed = Object.keys(chosen).filter((address) => fails(address));
        const state = after({ chosen: of(chosen), unconfirmed })?.state ?? {};
        for (const address of addressesOf(skiff)) {
          const isKept = chosen[address] === undefined || unconfirmed.includes(address);
          expect(valueAt(state, address)).toEqual(isKept ? valueAt(plain, address) : chosen[address]);
        }
      }),
      { numRuns: runs(100) },
    );
  });
});
