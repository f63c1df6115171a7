import { boathouse, quay } from '@old-echo/testing/profiles';

import { type Audibility, MAX_AUDIBILITY_DB, rateAudibility } from '../../src/compare/audibility';
import { type Profile, stripFamily } from '../../src/desk/profile';
import type { Value } from '../../src/desk/setting';
import { defaultState, type StripState } from '../../src/desk/state';
import { PAD_DB } from '../../src/signal/path-gain';
import { thirdOctaves } from '../../src/signal/third-octaves';

interface Around {
  readonly profile?: Profile;
  readonly strip?: string;
  /** The path gain of the strip, in dB. */
  readonly reach?: number;
  readonly silent?: boolean;
  /** What A and B hold besides. */
  readonly both?: StripState;
}

/** How much is heard of the section of what moves first, between a strip as in A and the same with those moves. */
function rate(a: StripState, moves: StripState, around: Around = {}): Audibility {
  const { profile = boathouse, strip = 'in.1', reach = 0, silent = false, both = {} } = around;
  const before: StripState = { ...defaultState(profile)[strip], ...both, ...a };
  const section = Object.keys(moves)[0]!.split('/')[0]!;
  return rateAudibility({
    profile,
    strip,
    settings: stripFamily(profile, strip)!.settings,
    section,
    changes: Object.entries(moves)
      .filter(([key, now]) => key.startsWith(`${section}/`) && now !== before[key])
      .map(([key, now]) => ({ address: `${strip}/${key}`, strip, section, key, was: before[key] ?? '', now })),
    a: before,
    b: { ...before, ...moves },
    reach: () => reach,
    silent: () => silent,
  });
}

/** One setting that is one thing in A and another in B. */
const change = (key: string, was: Value, now: Value, around?: Around): Audibility =>
  rate({ [key]: was }, { [key]: now }, around);
const namedKey = ({ fact }: Audibility): string | undefined =>
  fact.is === 'change' ? (fact.change?.key ?? 'none') : undefined;

describe('levels', () => {
  test.each([
    ['up', -10, -4, 6, 'B', true],
    ['down', -4, -10, 6, 'A', true],
    ['by half a dB, which is just heard (common practice)', -10, -9.5, 0.5, 'B', true],
    ['by less', -10, -9.75, 0.25, 'B', false],
    ['where nothing is heard any more', -70, -80, 0, null, false],
    ['from there up, from where one begins to hear', -70, -50, 10, 'B', true],
    ['opened from nothing', -90, -20, 40, 'B', true],
    ['from one end to the other, as much as there is', -90, 10, MAX_AUDIBILITY_DB, 'B', true],
  ])('a fader %s', (_, was, now, heard, higher, audible) => {
    expect(change('fader/level', was, now)).toMatchObject({ heard, higher, audible });
  });

  test('of several the one that moves most is named, the first of those that move alike', () => {
    const sends = (one: number, two: number) =>
      rate({ 'sends/fx.1/level': -20, 'sends/fx.2/level': -20 }, { 'sends/fx.1/level': one, 'sends/fx.2/level': two });
    expect([sends(-17, -10), sends(-10, -17), sends(-25, -15)].map(namedKey)).toEqual([
      'sends/fx.2/level',
      'sends/fx.1/level',
      'sends/fx.1/level',
    ]);
    expect(sends(-25, -15)).toMatchObject({ heard: 5, higher: 'A' });
  });

  test('a send that is switched counts as far as it is open where it is on', () => {
    const send = (was: boolean, levelWas: number, levelNow: number) =>
      rate(
        { 'sends/fx.1/on': was, 'sends/fx.1/level': levelWas },
        { 'sends/fx.1/on': !was, 'sends/fx.1/level': levelNow },
      );
    expect(send(false, 0, -6)).toMatchObject({ heard: 54, higher: 'B', audible: true });
    expect(send(true, -12, 0)).toMatchObject({ heard: 48, higher: 'A', audible: true });
  });

  test('a send taken before the fader is louder by what the fader takes down, and by no more than there is of it', () => {
    const tap = (now: 'pre' | 'post', fader: readonly [a: number, b: number], level: number) =>
      rate(
        { 'sends/mix.1/tap': now === 'pre' ? 'post' : 'pre', 'fader/level': fader[0] },
        { 'sends/mix.1/tap': now, 'fader/level': fader[1] },
        { profile: quay, both: { 'sends/mix.1/level': level } },
      );
    expect(tap('pre', [-20, -20], -10)).toMatchObject({ heard: 20, higher: 'B' });
    expect(tap('post', [-20, -20], -10)).toMatchObject({ heard: 20, higher: 'A' });
    expect(tap('pre', [-20, -30], -10).heard).toBe(30);
    expect(tap('post', [-30, -20], -10).heard).toBe(30);
    expect(tap('pre', [-20, -20], -55).heard).toBe(5);
    expect(tap('pre', [0, 0], -10)).toMatchObject({ heard: 0, higher: null, audible: false });
  });
});

test.each([
  ['closes', false, true, -20, { heard: 40, audible: true, higher: 'A', fact: { is: 'mute', opens: false } }],
  ['opens', true, false, -20, { heard: 40, audible: true, higher: 'B', fact: { is: 'mute', opens: true } }],
  ['on a path under where one hears', false, true, -90, { heard: 0, audible: false }],
  ['on a path over full level, as much as there is', false, true, 12, { heard: MAX_AUDIBILITY_DB, audible: true }],
])('a mute that %s', (_, was, now, reach, found) => {
  expect(change('mute/on', was, now, { reach })).toMatchObject(found);
});

describe('the preamp', () => {
  test.each([
    ['gain', { 'preamp/gain': 30 }, { 'preamp/gain': 36 }, 6, 'B', true],
    ['gain by half a dB', { 'preamp/gain': 30 }, { 'preamp/gain': 30.5 }, 0.5, 'B', true],
    ['gain by less', { 'preamp/gain': 30 }, { 'preamp/gain': 30.25 }, 0.25, 'B', false],
    ['pad', { 'preamp/pad': false }, { 'preamp/pad': true }, -PAD_DB, 'A', true],
    ['pad out', { 'preamp/pad': true }, { 'preamp/pad': false }, -PAD_DB, 'B', true],
    ['polarity, as one changed value', { 'preamp/polarity': false }, { 'preamp/polarity': true }, 1, null, true],
    ['phantom power alone', { 'preamp/phantom': false }, { 'preamp/phantom': true }, 0, null, false],
    [
      'a little gain and the polarity',
      { 'preamp/gain': 30, 'preamp/polarity': false },
      { 'preamp/gain': 30.25, 'preamp/polarity': true },
      1,
      'B',
      true,
    ],
  ] as const)('%s', (_, a, b, heard, higher, audible) => {
    expect(rate(a, b)).toMatchObject({ heard, higher, audible });
  });

  test('a strip without a gain has its trim, which counts alike', () => {
    const trim = (was: number, now: number) => {
      const cell = { profile: boathouse, strip: 'in.1', settings: {}, section: 'preamp' };
      const changes = [{ address: 'in.1/preamp/trim', strip: 'in.1', section: 'preamp', key: 'preamp/trim', was, now }];
      const sides = { a: { 'preamp/trim': was }, b: { 'preamp/trim': now } };
      return rateAudibility({ ...cell, changes, ...sides, reach: () => 0, silent: () => false });
    };
    expect(trim(-3, 1)).toMatchObject({ heard: 4, higher: 'B' });
    expect(trim(0, -2)).toMatchObject({ heard: 2, higher: 'A' });
  });

  test('a low cut is heard by what it takes away, and only where it is what changed', () => {
    const cut = (hertz: number) =>
      rate({ 'preamp/lowcut/on': false }, { 'preamp/lowcut/on': true }, { both: { 'preamp/lowcut/freq': hertz } });
    expect(cut(100).audible).toBe(true);
    expect(cut(300).heard).toBeGreaterThan(cut(100).heard);
    const beside = rate(
      { 'preamp/gain': 30, 'preamp/lowcut/on': false },
      { 'preamp/gain': 30, 'preamp/lowcut/on': false },
      { both: { 'preamp/lowcut/freq': 300 } },
    );
    expect(beside).toMatchObject({ heard: 0, audible: false });
  });
});

describe('the EQ', () => {
  const bell = (gain: number): StripState => ({
    'eq/on': true,
    'eq/2/kind': 'bell',
    'eq/2/freq': 1000,
    'eq/2/q': 1,
    'eq/2/gain': gain,
  });

  test('a bell is named where it stands, by its height, to the side on which there is more', () => {
    const found = rate(bell(0), bell(6));
    expect(found).toMatchObject({ audible: true, higher: 'B', fact: { is: 'curve', hertz: 1000 } });
    expect(found.fact).toMatchObject({ by: expect.closeTo(6, 6) as number });
    expect(found.fact).not.toHaveProperty('switched');
    expect(rate(bell(0), bell(-6)).higher).toBe('A');
  });

  test('it counts its mean over the third octaves: less than its height, and twice for two alike', () => {
    const one = rate(bell(0), bell(6)).heard;
    expect(one).toBeGreaterThan(6 / thirdOctaves().length);
    expect(one).toBeLessThan(6);
    const pair = (gain: number): StripState => ({ ...bell(gain), 'eq/3/kind': 'bell', 'eq/3/freq': 1000, 'eq/3/q': 1 });
    expect(rate({ ...pair(0), 'eq/3/gain': 0 }, { ...pair(6), 'eq/3/gain': 6 }).heard).toBeCloseTo(2 * one, 6);
  });

  test.each([
    ['switched on', false, true, { switched: true }, 'B'],
    ['switched off', true, false, { switched: false }, 'A'],
  ])('%s it is named so', (_, was, now, fact, higher) => {
    expect(rate({ ...bell(6), 'eq/on': was }, { ...bell(6), 'eq/on': now })).toMatchObject({ fact, higher });
  });

  test('where it does nothing what changed is named: as off where it is off on both sides', () => {
    const off = (gain: number) => ({ ...bell(gain), 'eq/on': false });
    expect(rate(off(0), off(6))).toMatchObject({ heard: 0, audible: false, higher: null, fact: { idle: 'off' } });
    const flat = rate({ ...bell(0), 'eq/2/freq': 1000 }, { ...bell(0), 'eq/2/freq': 2000 });
    expect(flat).toMatchObject({ audible: false, higher: null, fact: { is: 'change' } });
  });

  test('less than half a dB anywhere is not heard; what is hardly there is no curve', () => {
    expect(rate(bell(0), bell(0.4))).toMatchObject({ audible: false, higher: 'B', fact: { is: 'curve' } });
    expect(rate(bell(0), bell(0.6)).audible).toBe(true);
    expect(rate(bell(0), bell(0.04))).toMatchObject({ higher: null, fact: { is: 'change' } });
  });
});

describe('dynamics, over inputs of −60 dB to full scale in steps of one (arithmetic)', () => {
  const compressor = (moves: StripState): StripState => ({
    'compressor/on': true,
    'compressor/threshold': -20,
    'compressor/ratio': 2,
    'compressor/knee': 0,
    ...moves,
  });

  test('a ratio of two over −20 dB: half of each dB above it', () => {
    const found = rate(compressor({ 'compressor/on': false }), compressor({}));
    // 0, 0.5, 1 … 10 dB at −20, −19, −18 … 0.
    expect(found.heard).toBeCloseTo((0.5 * (20 * 21)) / 2 / 61, 9);
    expect(found).toMatchObject({ audible: true, higher: 'A' });
    expect(rate(compressor({}), compressor({ 'compressor/on': false })).higher).toBe('B');
  });

  test('make-up raises all of it', () => {
    expect(rate(compressor({}), compressor({ 'compressor/makeup': 3 }))).toMatchObject({
      heard: expect.closeTo(3, 9) as number,
      higher: 'B',
    });
  });

  test('what does hardly anything is told as changed, to neither side', () => {
    const hardly = rate(compressor({ 'compressor/makeup': 0 }), compressor({ 'compressor/makeup': 0.04 }));
    expect(hardly).toMatchObject({ audible: false, higher: null });
    expect(rate(compressor({ 'compressor/makeup': 0 }), compressor({ 'compressor/makeup': 0.4 }))).toMatchObject({
      audible: false,
      higher: 'B',
    });
    expect(rate(compressor({ 'compressor/makeup': 0 }), compressor({ 'compressor/makeup': 0.5 })).audible).toBe(true);
  });

  test.each([
    ['twice as long', 100, 200, 1, true],
    ['half as long', 100, 50, 1, true],
    ['four times as long', 100, 400, 2, true],
    ['a little longer', 100, 130, Math.log2(1.3), false],
    ['from no time at all, which is no octave', 0, 100, 0, false],
  ])('a release that is %s counts by octaves', (_, was, now, heard, audible) => {
    const found = rate(compressor({ 'compressor/release': was }), compressor({ 'compressor/release': now }));
    expect(found.heard).toBeCloseTo(heard, 9);
    expect(found.audible).toBe(audible);
  });

  test('a gate at −40 dB that takes 20 dB away: on the twenty inputs under it', () => {
    const gate = (on: boolean): StripState => ({ 'gate/on': on, 'gate/threshold': -40, 'gate/range': 20 });
    expect(rate(gate(false), gate(true))).toMatchObject({
      heard: expect.closeTo((20 * 20) / 61, 9) as number,
      audible: true,
      higher: 'A',
    });
  });

  test('off on both sides nothing of it is heard, and it is named so', () => {
    const off = (threshold: number) => compressor({ 'compressor/threshold': threshold, 'compressor/on': false });
    expect(rate(off(-20), off(-40))).toMatchObject({ heard: 0, audible: false, higher: null, fact: { idle: 'off' } });
  });
});

describe('processors in the chain', () => {
  const drive = (more: StripState = {}): StripState => ({
    'inserts/1/kind': 'drive',
    'inserts/1/on': true,
    'inserts/1/drive/amount': 20,
    ...more,
  });
  const bypassed = { heard: 0, audible: false, fact: { idle: 'bypassed' } };

  test.each([
    ['a value of one that works', drive(), { 'inserts/1/drive/amount': 40 }, { heard: 1, audible: true }],
    ['a value of one that is bypassed', drive({ 'inserts/1/on': false }), { 'inserts/1/drive/amount': 40 }, bypassed],
    ['a value of another kind than stands there', drive(), { 'inserts/1/delay/time': 40 }, bypassed],
    ['one that is switched off', drive(), { 'inserts/1/on': false }, { heard: 6, audible: true }],
    ['one that gives way to another', drive(), { 'inserts/1/kind': 'delay' }, { heard: 6, audible: true }],
    ['an empty place that is switched', { 'inserts/1/kind': 'empty' }, { 'inserts/1/on': true }, bypassed],
    ['a kind in a place that is off', drive({ 'inserts/1/on': false }), { 'inserts/1/kind': 'delay' }, bypassed],
    ['an outboard insert’s delay', {}, { 'inserts/delay': 12 }, { heard: 1, audible: true }],
    ['an insert point that works', { 'inserts/on': true }, { 'inserts/send': 'x' }, { heard: 1, audible: true }],
    ['an insert point that is off', { 'inserts/on': false }, { 'inserts/send': 'x' }, bypassed],
  ])('%s', (_, a, b, found) => {
    expect(rate(a, b)).toMatchObject(found);
  });

  test('what works is named before what does not', () => {
    const found = rate(
      { ...drive(), 'inserts/2/kind': 'delay', 'inserts/2/delay/time': 10 },
      { 'inserts/2/delay/time': 20, 'inserts/1/drive/amount': 30 },
      { both: drive() },
    );
    expect(namedKey(found)).toBe('inserts/1/drive/amount');
  });
});

describe('the image, by constant power: in the middle each side is 3.01 dB down', () => {
  const MIDDLE = 10 * Math.log10(0.5);

  test.each([
    ['from the middle to the left: what the right loses, down to −20 dB', 0, -100, 20 + MIDDLE],
    ['from the middle to the right: the same', 0, 100, 20 + MIDDLE],
    ['from side to side', -100, 100, 20],
    ['a quarter of the way, by the sine', 0, 50, Math.abs(20 * Math.log10(Math.cos((3 * Math.PI) / 8)) - MIDDLE)],
  ])('%s', (_, was, now, heard) => {
    expect(change('pan/position', was, now).heard).toBeCloseTo(heard, 6);
  });

  test('by how loud the strip is: from 40 dB over silence on in full', () => {
    const at = (reach: number) => change('pan/position', -100, 100, { reach });
    expect([-20, -40, -60, -80, 10].map((reach) => at(reach).heard)).toEqual([20, 10, 0, 0, 20]);
    expect([at(-20).audible, at(-60).audible, at(-20).higher]).toEqual([true, false, null]);
  });

  test('a width counts a dB for each twentieth; a strip that has none is as wide as can be', () => {
    expect(change('pan/width', 100, 80).heard).toBeCloseTo(1, 9);
    const cell = {
      profile: boathouse,
      strip: 'in.1',
      settings: {},
      section: 'pan',
      reach: () => 0,
      silent: () => false,
    };
    const width = { address: 'in.1/pan/width', strip: 'in.1', section: 'pan', key: 'pan/width', was: 100, now: 60 };
    expect(rateAudibility({ ...cell, changes: [width], a: {}, b: { 'pan/width': 60 } }).heard).toBeCloseTo(2, 9);
    expect(rateAudibility({ ...cell, changes: [width], a: { 'pan/width': 60 }, b: {} }).heard).toBeCloseTo(2, 9);
  });
});

describe('automation, by the mean distance of the lanes', () => {
  const point = (value: number): Value => [[4, value]];

  test.each([
    ['a fader lane against another', 'automation/fader', point(-10), point(-16), {}, 6],
    ['a fader lane against the fader', 'automation/fader', [], point(-16), { 'fader/level': -10 }, 6],
    ['a send lane against the send', 'automation/fx.1', [], point(-16), { 'sends/fx.1/level': -10 }, 6],
    ['a fader lane against a fader that is shut', 'automation/fader', [], point(-10), { 'fader/level': -90 }, 50],
    ['a mute lane, as silence to full level', 'automation/mute', point(0), point(1), {}, MAX_AUDIBILITY_DB],
    ['a mute lane that says what the mute is', 'automation/mute', [], point(1), { 'mute/on': true }, 0],
    ['a mute lane against an open mute', 'automation/mute', [], point(1), { 'mute/on': false }, MAX_AUDIBILITY_DB],
    ['a pan lane, a dB for each twentieth', 'automation/pan', point(0), point(40), {}, 2],
    ['a pan lane against the pan', 'automation/pan', [], point(40), { 'pan/position': -20 }, 3],
    ['a lane of a processor, likewise', 'automation/inserts/1/drive/amount', [], point(40), {}, 2],
  ] as const)('%s', (_, key, was, now, both, heard) => {
    const found = change(key, was, now, { both });
    expect(found.heard).toBeCloseTo(heard, 6);
    expect(found).toMatchObject({ audible: heard > 0, higher: null });
  });

  test('the lane that is furthest away counts; by less than half a dB nothing is heard', () => {
    const both = (fader: number) =>
      rate(
        { 'automation/fader': point(0), 'automation/pan': point(0) },
        { 'automation/fader': point(fader), 'automation/pan': point(40) },
      );
    expect([both(6).heard, both(1).heard]).toEqual([6, 2]);
    expect(change('automation/fader', point(0), point(0.5)).audible).toBe(true);
    expect(change('automation/fader', point(0), point(0.25)).audible).toBe(false);
  });
});

describe('ways and sources', () => {
  test('a way that opens counts half of how loud the strip is', () => {
    const way = (reach: number) => change('routing/main.1', false, true, { profile: quay, reach });
    expect([-20, 6, -90].map((reach) => way(reach).heard)).toEqual([20, 30, 0]);
    expect([way(-20).audible, way(-90).audible, way(-59).audible, way(-59.5).audible]).toEqual([
      true,
      false,
      true,
      false,
    ]);
  });

  test('a membership of a DCA counts as a processor swapped, unless a way changes too', () => {
    const dca = { 'routing/dca.1': true };
    const more = { ...dca, 'routing/main.1': true };
    const was = { 'routing/dca.1': false, 'routing/main.1': false };
    expect(rate(was, dca, { profile: quay, reach: -20 }).heard).toBe(6);
    expect(rate(was, more, { profile: quay, reach: -20 }).heard).toBe(20);
  });

  test('another socket is another source: heard, and named first; a name of the source is not', () => {
    const socket = rate(
      { 'source/name': 'Harp', 'source/socket': 'stage/1' },
      { 'source/name': 'Fiddle', 'source/socket': 'stage/2' },
    );
    expect(socket).toMatchObject({ heard: MAX_AUDIBILITY_DB / 2, audible: true, higher: null });
    expect(namedKey(socket)).toBe('source/socket');
    const other = change('source/name', 'Harp', 'Fiddle');
    expect([other.heard, other.audible, namedKey(other)]).toEqual([0, false, 'source/name']);
  });
});

test.each([
  ['label/name', 'Harp', 'Fiddle', { heard: 0, audible: false, higher: null }],
  ['view/colour', 1, 2, { heard: 0, audible: false, higher: null }],
  ['delay/time', 0, 12, { heard: 1, audible: true, higher: null }],
])('what has no measure of its own: %s', (key, was, now, found) => {
  expect(change(key, was, now)).toMatchObject(found);
});

test('of a strip that nothing is heard of, what would be heard is told as silent; what would not be is not', () => {
  expect(change('fader/level', -10, -4, { silent: true })).toMatchObject({ heard: 0, audible: false, silent: true });
  expect(change('label/name', 'Harp', 'Fiddle', { silent: true })).not.toHaveProperty('silent');
});
