import { boathouse, quay } from '@old-echo/testing/profiles';

import { compare } from '../../src/compare/compare';
import { defaultState, type SettingsByAddress, withSettings } from '../../src/desk/state';
import { describeCaution, describeCautionItem, readingOf } from '../../src/phrases/describe-caution';
import { describeComparison, describeDifference } from '../../src/phrases/describe-comparison';
import { describeDependency } from '../../src/phrases/describe-dependency';
import { countStrips, joinWithAnd, plural } from '../../src/phrases/format-value';
import { plainText } from '../../src/phrases/phrase';
import { preview } from '../../src/recall/preview';
import { ALL_WITH_GLOBALS } from '../../src/recall/scope-rules';

test('strips are counted once each, and the globals are no strip', () => {
  expect(countStrips(['in.1'])).toBe('1 strip');
  expect(countStrips(['in.1', 'in.2', 'in.1'])).toBe('2 strips');
  expect(countStrips(['in.1', 'desk.1', 'in.2'])).toBe('2 strips and the globals');
  expect(countStrips(['desk.1', 'desk.1'])).toBe('the globals');
  expect(countStrips([])).toBe('0 strips');
});

test('lists and counts read as one would say them', () => {
  expect([[], ['a'], ['a', 'b'], ['a', 'b', 'c']].map(joinWithAnd)).toEqual(['', 'a', 'a and b', 'a, b and c']);
  expect([plural(0, 'strip'), plural(1, 'strip'), plural(2, 'strip'), plural(9873, 'setting')]).toEqual([
    '0 strips',
    '1 strip',
    '2 strips',
    '9,873 settings',
  ]);
});

describe('a caution in words', () => {
  const show = withSettings(defaultState(quay), {
    'in.1/label/name': 'Fiddle',
    'in.2/label/name': 'Bass',
    'main.1/fader/level': 0,
    'mix.1/fader/level': 0,
    'in.1/fader/level': -20,
    'in.2/fader/level': -20,
    'in.3/fader/level': -20,
  });
  const said = (from: SettingsByAddress, to: SettingsByAddress, kind: string) => {
    const now = withSettings(show, from);
    const target = withSettings(now, to);
    const plan = preview({ profile: quay, now, target, scope: ALL_WITH_GLOBALS, safes: [], mode: 'live' });
    const reading = readingOf(quay, now, plan.changes);
    const caution = plan.cautions.find((one) => one.kind === kind)!;
    return [describeCaution(caution, reading), ...caution.items.map((item) => describeCautionItem(item, reading))];
  };

  test.each<[string, SettingsByAddress, SettingsByAddress, title: string, detail: string]>([
    ['louder', {}, { 'in.1/fader/level': -8 }, 'Fiddle gets 12.0 dB louder in Main L/R', 'Fader −20.0 to −8.0 dB'],
    [
      'louder',
      {},
      { 'in.1/fader/level': -8, 'in.2/fader/level': -10 },
      'Fiddle gets 12.0 dB louder in Main L/R; 1 more strip gets louder too',
      'Fader −20.0 to −8.0 dB',
    ],
    ['louder', { 'in.1/mute/on': true }, { 'in.1/mute/on': false }, 'Fiddle opens in Main L/R', 'Unmutes'],
    [
      'phantom',
      { 'in.1/mute/on': true },
      { 'in.1/preamp/phantom': true },
      '48 V turns on for Fiddle',
      'Nothing of it is audible while it settles.',
    ],
    [
      'patch',
      {},
      { 'in.1/source/socket': 'Stage 12' },
      'Patch changes on Fiddle',
      'Muted during the change, unmuted at the end.',
    ],
    [
      'polarity',
      {},
      { 'in.1/preamp/polarity': true },
      'Polarity changes on Fiddle while audible',
      'What other microphones pick up of it cancels, or adds up again.',
    ],
    ['silent', {}, { 'in.1/mute/on': true }, 'Fiddle goes silent', ''],
    ['silent', {}, { 'in.1/mute/on': true, 'in.2/mute/on': true }, 'Fiddle and Bass go silent', ''],
    [
      'lost',
      { 'in.1/label/note': 'bright strings' },
      { 'in.1/label/note': '' },
      '1 note on Fiddle would be lost',
      'Fiddle: the note “bright strings”',
    ],
    [
      'pair',
      { 'in.1/source/link': true },
      { 'in.1/fader/level': -30 },
      'Fiddle changes, its stereo partner stays',
      'Bass stays as it is: the two are linked, and would no longer be alike.',
    ],
    [
      'global',
      { 'desk.1/headphones/level': -30 },
      { 'desk.1/headphones/level': -3 },
      'Headphones get 27.0 dB louder',
      'Someone may have them on.',
    ],
  ])('%s: the verb goes with the count, and the reason is said once', (kind, from, to, title, detail) => {
    expect(said(from, to, kind)[0]).toEqual({ title, detail });
  });

  test('each strip of a caution says what happens on it', () => {
    expect(said({}, { 'in.1/fader/level': -8 }, 'louder')[1]).toBe('+12.0 dB');
    expect(said({ 'in.1/mute/on': true }, { 'in.1/mute/on': false }, 'louder')[1]).toBe('opens');
    expect(said({}, { 'in.1/preamp/polarity': true }, 'polarity')[1]).toBe('inverted');
    expect(said({}, { 'in.1/source/socket': 'Stage 12' }, 'patch')[1]).toMatch(/^Source .* to Stage 12$/);
  });
});

describe('what differs, in words', () => {
  const a = withSettings(defaultState(boathouse), { 'main.1/fader/level': 0, 'in.1/fader/level': -10 });
  const to = (settings: SettingsByAddress) => compare(boathouse, a, withSettings(a, settings));
  const of = (settings: SettingsByAddress, section: string) => {
    const cell = to(settings).cells.find((one) => one.section === section)!;
    return describeDifference(boathouse, a, cell);
  };

  test('a cell by its section', () => {
    expect(of({ 'in.1/fader/level': -4 }, 'fader')).toBe('−10.0 to −4.0 dB');
    expect(of({ 'in.1/mute/on': true }, 'mute')).toBe('muted in B');
    expect(of({ 'in.1/compressor/threshold': -30 }, 'compressor')).toMatch(/, but off in both$/);
    expect(of({ 'in.1/inserts/1/kind': 'drive' }, 'inserts')).toMatch(/, but bypassed in both$/);
    expect(of({ 'in.1/eq/on': true, 'in.1/eq/2/gain': 4, 'in.1/eq/2/freq': 1000 }, 'eq')).toBe(
      'switched on, +4.0 dB at 1.0 kHz',
    );
    expect(of({ 'in.1/label/note': 'a', 'in.1/label/colour': 'slate' }, 'label')).toMatch(/ and 1 more setting$/);
  });

  test('all of it in one sentence, with the loudness where it was measured', () => {
    const say = (settings: SettingsByAddress, louder?: number) =>
      plainText(describeComparison(boathouse, a, to(settings), louder));
    expect(say({})).toBe('A and B are the same in every setting.');
    expect(say({ 'in.1/label/note': 'x' })).toBe('B differs in 1 setting on 1 strip. Barely any of it is audible.');
    expect(say({ 'in.1/fader/level': -1 }, -1.3)).toBe(
      'B is 1.3 LU quieter and differs in 1 setting on 1 strip. Most of it is on Strip 1.',
    );
  });
});

test.each([
  [['in.1'], 'return', 'Strip 1 feeds FX 1, which had a different effect in 9 Ferry.'],
  [['in.1', 'in.2'], 'level', 'Strip 1 and Strip 2 are assigned to FX 1, which had another level in 9 Ferry.'],
  [['in.1'], 'muted', 'Strip 1 is unmuted, but FX 1 is muted here and was not in 9 Ferry.'],
  [['in.1'], 'pair', 'Strip 1 is stereo-linked to FX 1, whose EQ was not taken.'],
] as const)('%j depend on something: %s', (strips, kind, sentence) => {
  const names = withSettings(defaultState(boathouse), { 'fx.1/label/name': 'FX 1' });
  const dependency = { kind, strips, on: 'fx.1', scene: 's', fix: ['fx.1/eq'] };
  expect(describeDependency(boathouse, names, dependency, '9 Ferry')).toBe(sentence);
});
