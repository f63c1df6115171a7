import fc from 'fast-check';

import { between } from '@old-echo/testing/between';
import { boathouse, PROFILES, quay, skiff } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';

import { defaultState, type SettingsByAddress, withSettings } from '../../src/desk/state';
import { PAD_DB, pathGains } from '../../src/signal/path-gain';

// The sum of decibels along a path is arithmetic; that mutes also close pre-fader sends, and the 20 dB of a pad, are common
// practice.
const open: SettingsByAddress = {
  'in.1/preamp/gain': 30,
  'in.1/fader/level': -10,
  'main.1/fader/level': -5,
  'mix.1/fader/level': -3,
  'matrix.1/fader/level': -6,
  'group.1/fader/level': -2,
  'fx.1/fader/level': -8,
};
const gain = (output: string, settings: SettingsByAddress, source = 'in.1') =>
  pathGains(quay, withSettings(defaultState(quay), { ...open, ...settings }))[output]?.[source];

describe('path gain', () => {
  test.each<[string, string, SettingsByAddress, number]>([
    ['preamp, fader and main', 'main.1', {}, 30 - 10 - 5],
    ['a pad', 'main.1', { 'in.1/preamp/pad': true }, 30 - 10 - 5 + PAD_DB],
    ['a DCA', 'main.1', { 'in.1/routing/dca.2': true, 'dca.2/fader/level': -7 }, 30 - 10 - 5 - 7],
    [
      'two DCAs',
      'main.1',
      { 'in.1/routing/dca.2': true, 'in.1/routing/dca.3': true, 'dca.2/fader/level': -7, 'dca.3/fader/level': 2 },
      30 - 10 - 5 - 7 + 2,
    ],
    ['a muted strip', 'main.1', { 'in.1/mute/on': true }, -Infinity],
    ['a muted DCA', 'main.1', { 'in.1/routing/dca.2': true, 'dca.2/mute/on': true }, -Infinity],
    ['a mute group that is open', 'main.1', { 'in.1/routing/mutegroup.2': true }, 30 - 10 - 5],
    ['a muted mute group', 'main.1', { 'in.1/routing/mutegroup.2': true, 'mutegroup.2/mute/on': true }, -Infinity],
    [
      'a muted DCA closes what is sent before the fader as well',
      'mix.1',
      {
        'in.1/sends/mix.1/level': -10,
        'in.1/sends/mix.1/tap': 'pre',
        'in.1/routing/dca.2': true,
        'dca.2/mute/on': true,
      },
      -Infinity,
    ],
    [
      'a DCA’s fader does not move what is sent before the fader',
      'mix.1',
      {
        'in.1/sends/mix.1/level': -10,
        'in.1/sends/mix.1/tap': 'pre',
        'in.1/routing/dca.2': true,
        'dca.2/fader/level': -7,
      },
      30 - 10 - 3,
    ],
    ['a muted main', 'main.1', { 'main.1/mute/on': true }, -Infinity],
    ['a fader that is off', 'main.1', { 'in.1/fader/level': -90 }, -Infinity],
    ['no source', 'main.1', { 'in.1/source/socket': 'none' }, -Infinity],
    ['not routed to the main', 'main.1', { 'in.1/routing/main.1': false }, -Infinity],
    [
      'through a group instead',
      'main.1',
      { 'in.1/routing/main.1': false, 'in.1/routing/group.1': true },
      30 - 10 - 2 - 5,
    ],
    [
      'a muted group',
      'main.1',
      { 'in.1/routing/main.1': false, 'in.1/routing/group.1': true, 'group.1/mute/on': true },
      -Infinity,
    ],
    [
      'a pre-fader send does not know the fader',
      'mix.1',
      { 'in.1/sends/mix.1/level': -12, 'in.1/fader/level': -90 },
      30 - 12 - 3,
    ],
    ['but it knows the mute', 'mix.1', { 'in.1/sends/mix.1/level': -12, 'in.1/mute/on': true }, -Infinity],
    [
      'and the mute group',
      'mix.1',
      { 'in.1/sends/mix.1/level': -12, 'in.1/routing/mutegroup.1': true, 'mutegroup.1/mute/on': true },
      -Infinity,
    ],
    [
      'and not the DCA',
      'mix.1',
      { 'in.1/sends/mix.1/level': -12, 'in.1/routing/dca.1': true, 'dca.1/fader/level': -20 },
      30 - 12 - 3,
    ],
    ['a post-fader send', 'mix.1', { 'in.1/sends/mix.1/level': -12, 'in.1/sends/mix.1/tap': 'post' }, 30 - 10 - 12 - 3],
    [
      'a send that is switched off',
      'mix.1',
      { 'in.1/sends/mix.1/level': -12, 'in.1/sends/mix.1/on': false },
      -Infinity,
    ],
    ['a matrix behind the main', 'matrix.1', { 'main.1/sends/matrix.1/level': -4 }, 30 - 10 - 5 - 4 - 6],
    [
      'only through an effect',
      'main.1',
      { 'in.1/routing/main.1': false, 'in.1/sends/fx.1/level': -6 },
      30 - 10 - 6 - 8 - 5,
    ],
  ])('%s', (_, output, settings, expected) => {
    expect(gain(output, settings)).toBeCloseTo(expected, 6);
  });

  test('two equal ways to one output add up to 6.02 dB more than one', () => {
    const both = gain('main.1', { 'in.1/routing/group.1': true, 'group.1/fader/level': 0 }) ?? 0;
    expect(both - (gain('main.1', {}) ?? 0)).toBeCloseTo(20 * Math.log10(2), 6);
  });

  test('a desk without pads, groups or routing is followed too', () => {
    const small = withSettings(defaultState(skiff), {
      'in.1/fader/level': -6,
      'main.1/fader/level': 0,
      'fx.1/fader/level': -3,
    });
    const onMain = pathGains(skiff, small)['main.1'];
    expect(['in.1', 'fx.1', 'in.2'].map((source) => Math.round((onMain?.[source] ?? 0) * 1e6) / 1e6)).toEqual([
      -6,
      -3,
      -Infinity,
    ]);
    const studio = withSettings(defaultState(boathouse), {
      'in.1/preamp/trim': 4,
      'in.1/fader/level': -6,
      'main.1/fader/level': 0,
    });
    expect(pathGains(boathouse, studio)['main.1']?.['in.1']).toBeCloseTo(-2, 6);
  });

  test.each(PROFILES)('on %s a fader that goes down never makes any path louder', (_, profile) => {
    const faders = profile.strips.filter((strip) => !strip.startsWith('desk'));
    fc.assert(
      fc.property(anyState(profile, 60), fc.constantFrom(...faders), between(0, 90), (state, strip, by) => {
        const at = Number(state[strip]?.['fader/level']);
        const [before, after] = [state, withSettings(state, { [`${strip}/fader/level`]: Math.max(-90, at - by) })].map(
          (s) => pathGains(profile, s),
        );
        for (const [output, sources] of Object.entries(after ?? {}))
          for (const [source, gain] of Object.entries(sources))
            expect(gain).toBeLessThanOrEqual((before?.[output]?.[source] ?? 0) + 1e-9);
      }),
      { numRuns: 40 },
    );
  });
});
