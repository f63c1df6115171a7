import fc from 'fast-check';

import { boathouse, quay } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { comparable, compare } from '../../src/compare/compare';
import { defaultState, type SettingsByAddress, type State, validateSettings, withSettings } from '../../src/desk/state';
import { counterpartOf } from '../../src/library/counterpart';
import { describeCounterpart } from '../../src/phrases/describe-counterpart';

const on = (profile: typeof quay, settings: SettingsByAddress): State => withSettings(defaultState(profile), settings);
/** A song on the studio desk, and the show of the same players, who sit on other strips there. */
const song = {
  profile: boathouse,
  state: on(boathouse, {
    'in.1/label/name': 'Fiddle',
    'in.1/fader/level': -9,
    'in.1/eq/on': true,
    'in.1/pan/position': -20,
    'in.2/label/name': 'Fiddle room',
    'in.2/fader/level': -18,
    'in.10/label/name': 'Wren vox',
    'in.10/fader/level': -6,
  }),
  parts: { 'in.1': 'Fiddle', 'in.10': 'Voice Wren' },
};
const show = {
  profile: quay,
  state: on(quay, {
    'in.5/label/name': 'Violin',
    'in.5/fader/level': -5,
    'in.7/label/name': 'Wren',
    'in.7/fader/level': -6,
    'in.9/label/name': 'Brass 1',
    'in.9/fader/level': -12,
  }),
  parts: { 'in.5': 'Fiddle', 'in.7': 'Voice Wren' },
};

test('a mix of another desk is seen on the strips that carry its parts; what has no counterpart is named on either side', () => {
  const { state, here, there } = counterpartOf(song, show);
  expect(state['in.5']).toMatchObject({ 'fader/level': -9, 'pan/position': -20, 'eq/on': true });
  expect(state['in.7']!['fader/level']).toBe(-6);
  expect([here, there]).toEqual([['in.9', 'main.2'], ['in.2']]);
});

test('what differs then is how they sound: not the names, the sockets, nor what has no counterpart', () => {
  const { state } = counterpartOf(song, show);
  const cells = compare(quay, ...comparable(show.state, state)).cells.filter(({ strip }) => strip.startsWith('in.'));
  expect(new Set(cells.map(({ strip }) => strip))).toEqual(new Set(['in.5']));
  expect(cells.map(({ section }) => section).sort()).toEqual(['eq', 'fader', 'pan']);
  expect(state['in.9']).toEqual(show.state['in.9']);
  expect(state['in.5']!['label/name']).toBe('Violin');
});

test('every value of it is one that the desk it is seen from can hold, whatever the other holds', () => {
  fc.assert(
    fc.property(anyState(boathouse, 80), (state) => {
      const { state: seen, matched } = counterpartOf({ ...song, state }, show);
      for (const [strip, settings] of Object.entries(seen))
        validateSettings(
          quay,
          Object.fromEntries(Object.entries(settings).map(([key, value]) => [`${strip}/${key}`, value])),
        );
      expect(Object.keys(seen)).toEqual(Object.keys(show.state));
      expect(matched).toBeGreaterThan(0);
    }),
    { numRuns: runs(10) },
  );
});

test('it is said in a sentence what is compared and what is not', () => {
  expect(describeCounterpart(show, song, { ...counterpartOf(song, show), matched: 2 })).toBe(
    'B is from a Boathouse. By part and name, 2 strips have a counterpart in A. Not compared, only in B: Fiddle room; only in A: Brass 1 and Mono.',
  );
  expect(describeCounterpart(show, song, { state: {}, matched: 1, here: [], there: [] })).toBe(
    'B is from a Boathouse. By part and name, 1 strip has a counterpart in A.',
  );
});
