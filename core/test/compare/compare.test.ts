import fc from 'fast-check';
import microdiff from 'microdiff';

import { boathouse, quay } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';

import { MAX_AUDIBILITY_DB } from '../../src/compare/audibility';
import { compare, type Comparison, outputDifferences } from '../../src/compare/compare';
import { leadingStrips } from '../../src/compare/leading-strips';
import type { Curve } from '../../src/desk/setting';
import { defaultState, type SettingsByAddress, type State, withSettings } from '../../src/desk/state';
import { laneDistance, laneWithSteps, valueAtTime } from '../../src/signal/automation-lane';
import { compressorCurve } from '../../src/signal/static-curve';
import { BAND_EDGE_RATIO, thirdOctaves } from '../../src/signal/third-octaves';

const open = withSettings(
  defaultState(boathouse),
  Object.fromEntries(Array.from({ length: 16 }, (_, i) => [`in.${i + 1}/fader/level`, -10])),
);
const against = (moves: SettingsByAddress) => compare(boathouse, open, withSettings(open, moves));
const cell = ({ cells }: Comparison, strip: string, section: string) =>
  cells.find((c) => c.strip === strip && c.section === section)!;

test('the same differences as a general-purpose comparison of the two objects finds (microdiff)', () => {
  fc.assert(
    fc.property(anySettings(boathouse), anySettings(boathouse), (one, other) => {
      const [a, b] = [withSettings(open, one), withSettings(open, other)];
      const found = compare(boathouse, a, b).cells.flatMap(({ changes }) => changes.map(({ address }) => address));
      const paths = microdiff(a, b).map(({ path }) => `${path[0]}/${path[1]}`);
      expect(found.sort()).toEqual([...new Set(paths)].sort());
    }),
    { numRuns: 60 },
  );
});

test('swapping A and B mirrors every number and changes no rank', () => {
  fc.assert(
    fc.property(anySettings(boathouse), anySettings(boathouse), (one, other) => {
      const [a, b] = [withSettings(open, one), withSettings(open, other)];
      const [there, back] = [compare(boathouse, a, b), compare(boathouse, b, a)];
      const swap = { A: 'B', B: 'A' } as const;
      for (const { strip, section, heard, audible, higher } of there.cells) {
        const mirrored = cell(back, strip, section);
        expect(mirrored.heard).toBeCloseTo(heard, 9);
        expect([mirrored.audible, mirrored.higher]).toEqual([audible, higher && swap[higher]]);
      }
      expect([back.settings, back.strips]).toEqual([there.settings, there.strips]);
      const sums = (left: State, right: State) =>
        outputDifferences(boathouse, left, right).map(({ output, a: one, b: other }) => [output, one, other]);
      expect(sums(b, a).sort()).toEqual(
        sums(a, b)
          .map(([output, left, right]) => [output, right, left])
          .sort(),
      );
    }),
    { numRuns: 60 },
  );
});

test('routing: more is heard on the side on which ways open; on neither where some open and some close, or none does', () => {
  const route = (was: SettingsByAddress, now: SettingsByAddress) =>
    cell(
      compare(quay, withSettings(defaultState(quay), was), withSettings(defaultState(quay), now)),
      'in.1',
      'routing',
    );
  const [main, group] = ['in.1/routing/main.1', 'in.1/routing/group.1'];
  expect(route({ [main]: false }, { [main]: true }).higher).toBe('B');
  expect(route({ [main]: true }, { [main]: false }).higher).toBe('A');
  expect(route({ [main]: false, [group]: true }, { [main]: true, [group]: false }).higher).toBeNull();
  const { higher } = cell(against({ 'main.1/routing/output': 'none' }), 'main.1', 'routing');
  expect(higher).toBeNull();
});

test('what one would hear most comes first: level before EQ before what is only written', () => {
  const { cells } = against({
    'in.1/label/note': 'new strings',
    'in.2/eq/on': true,
    'in.2/eq/3/gain': 5,
    'in.3/fader/level': -2,
  });
  expect(cells.map((c) => `${c.strip}/${c.section}`)).toEqual(['in.3/fader', 'in.2/eq', 'in.1/label']);
  expect(cells.map((c) => c.audible)).toEqual([true, true, false]);
});

test('a fader by 8 dB counts 8 dB, to the side that is higher, in trade units', () => {
  const fader = cell(against({ 'in.3/fader/level': -2 }), 'in.3', 'fader');
  expect(fader).toMatchObject({ audible: true, higher: 'B', fact: { is: 'change', change: { was: -10, now: -2 } } });
  expect(fader.heard).toBeCloseTo(8, 6);
});

test.each([
  ['under half a dB (common practice)', { 'in.3/fader/level': -10.4 }, 'in.3', 'fader', false],
  ['half a dB', { 'in.3/fader/level': -10.5 }, 'in.3', 'fader', true],
  ['an EQ that is off', { 'in.3/eq/2/gain': 9 }, 'in.3', 'eq', false],
  ['a compressor that is off', { 'in.3/compressor/threshold': -40 }, 'in.3', 'compressor', false],
  ['a processor that is loaded but off', { 'in.3/inserts/1/kind': 'drive' }, 'in.3', 'inserts', false],
  [
    'a processor that is switched on',
    { 'in.3/inserts/1/kind': 'drive', 'in.3/inserts/1/on': true },
    'in.3',
    'inserts',
    true,
  ],
  [
    'anything on a strip that passes nothing in either',
    { 'in.20/eq/on': true, 'in.20/eq/2/gain': 12 },
    'in.20',
    'eq',
    false,
  ],
  ['a strip that is muted', { 'in.3/mute/on': true }, 'in.3', 'mute', true],
])('%s: audible or not', (_, moves, strip, section, audible) => {
  expect(cell(against(moves as SettingsByAddress), strip, section).audible).toBe(audible);
});

test('an EQ is told by its curve: where it differs most and by how much', () => {
  const moves = { 'in.2/eq/on': true, 'in.2/eq/3/freq': 3150, 'in.2/eq/3/kind': 'bell', 'in.2/eq/3/gain': 4 };
  const found = cell(against(moves), 'in.2', 'eq');
  expect(found).toMatchObject({ higher: 'B', fact: { is: 'curve', switched: true } });
  const { by, hertz } = found.fact as Extract<typeof found.fact, { is: 'curve' }>;
  expect([by.toFixed(1), hertz.toFixed(0)]).toEqual(['4.0', '3162']);
});

test('the static curve: threshold −20, ratio 4, −8 in gives −17 out (arithmetic)', () => {
  const strip = { 'compressor/on': true, 'compressor/threshold': -20, 'compressor/ratio': 4, 'compressor/knee': 0 };
  expect(compressorCurve(strip, [-8, -20, -30])).toEqual([-17, -20, -30]);
});

test('automation lanes: straight between points, flat outside, and apart by their mean distance', () => {
  const lane = [
    [1, -10],
    [3, -20],
  ] as const;
  expect([0, 1, 2, 3, 9].map((at) => valueAtTime(lane, at))).toEqual([-10, -10, -15, -20, -20]);
  expect(laneDistance(lane, [[0, -10]], 0, 0)).toBeCloseTo(10 / 3, 1);
  expect(laneDistance([], [[4, -6]], -12, 0)).toBeCloseTo(6, 6);
  // A mute holds until its next point: open for the first half in one, throughout in the other.
  const half: Curve = [
    [0, 0],
    [2, 1],
    [4, 1],
  ];
  const open = laneWithSteps('automation/mute', [
    [0, 0],
    [4, 0],
  ]);
  expect(laneDistance(laneWithSteps('automation/mute', half), open, 0, 0)).toBeCloseTo(0.5, 6);
});

test('path gain per output, A against B', () => {
  const found = outputDifferences(
    boathouse,
    open,
    withSettings(open, { 'in.3/fader/level': -4, 'in.4/mute/on': true }),
  );
  expect(found).toMatchObject([{ output: 'main.1', source: 'in.4' }]);
});

test('one strip leads where it is half of all that one would hear; where nothing is audible, none does', () => {
  const leading = (moves: SettingsByAddress) => leadingStrips(against(moves));
  expect(leading({ 'in.1/label/note': 'x' })).toEqual({ strips: [], isMost: false });
  expect(leading({ 'in.1/fader/level': -1, 'in.2/fader/level': -9 })).toEqual({ strips: ['in.1'], isMost: true });
  const even = Object.fromEntries([1, 2, 3, 4].map((n) => [`in.${n}/fader/level`, -6 - n / 10]));
  expect(leading(even)).toEqual({ strips: ['in.1', 'in.2', 'in.3'], isMost: false });
});

test('third octaves (IEC 61260-1, base ten): exact middles and edges', () => {
  expect(
    thirdOctaves()
      .map((f) => Number(f.toPrecision(5)))
      .slice(15, 20),
  ).toEqual([630.96, 794.33, 1000, 1258.9, 1584.9]);
  expect(1000 * BAND_EDGE_RATIO).toBeCloseTo(1122.02, 2);
});

test('of a strip that lacks a setting what differs is found all the same, behind what can be heard', () => {
  const up = { 'main.1/fader/level': 0, 'in.2/routing/main.1': true };
  const lacking = (tap: string, level: number): State => {
    const state = withSettings(defaultState(quay), { ...up, 'in.1/sends/mix.1/tap': tap, 'in.2/fader/level': level });
    const { 'sends/mix.1/level': _, ...strip } = state['in.1']!;
    return { ...state, 'in.1': strip };
  };
  const { cells } = compare(quay, lacking('pre', -10), lacking('post', 0));
  expect(cells.map(({ strip, section }) => [strip, section])).toEqual([
    ['in.2', 'fader'],
    ['in.1', 'sends'],
  ]);
});

describe('a cell is blamed only for what its own settings do', () => {
  const cells = (to: SettingsByAddress) =>
    compare(quay, defaultState(quay), withSettings(defaultState(quay), to)).cells;
  const of = (to: SettingsByAddress, section: string) => cells(to).find((cell) => cell.section === section);

  test('a low cut is the preamp’s, not the EQ’s, although both change', () => {
    const to = {
      'main.1/fader/level': 0,
      'in.1/fader/level': 0,
      'in.1/preamp/lowcut/on': true,
      'in.1/preamp/lowcut/freq': 200,
      'in.1/eq/on': true,
    };
    expect(of(to, 'eq')).toMatchObject({ audible: false, fact: { is: 'change' } });
    expect(of(to, 'preamp')?.audible).toBe(true);
    const boost = { ...to, 'in.1/eq/2/gain': 6, 'in.1/eq/2/freq': 1000 };
    expect(of(boost, 'eq')?.fact).toMatchObject({ is: 'curve', hertz: 1000, by: expect.closeTo(6, 1) as number });
    expect(of(boost, 'preamp')?.heard).toBe(of(to, 'preamp')?.heard);
  });
});

test('a lead voice panned hard left stands before small changes of others, a quiet one behind them', () => {
  const base = {
    ...Object.fromEntries([1, 2, 3, 4, 5, 6, 7].map((n) => [`in.${n}/fader/level`, -10])),
    'main.1/fader/level': 0,
  };
  const small = Object.fromEntries([2, 3, 4, 5, 6, 7].map((n) => [`in.${n}/fader/level`, -13]));
  const rank = (level: number) => {
    const [a, b] = [
      { ...base, 'in.1/fader/level': level },
      { ...base, ...small, 'in.1/fader/level': level, 'in.1/pan/position': -100 },
    ];
    const { cells } = compare(quay, withSettings(defaultState(quay), a), withSettings(defaultState(quay), b));
    return cells.findIndex(({ section }) => section === 'pan');
  };
  expect(rank(-5)).toBe(0);
  expect(rank(-75)).toBe(6);
});

describe('how much is heard', () => {
  const heard = (moves: SettingsByAddress, strip: string, section: string, from: SettingsByAddress = {}) => {
    const before = withSettings(open, from);
    return cell(compare(boathouse, before, withSettings(before, moves)), strip, section);
  };

  test('a polarity that is turned round is heard', () => {
    expect(heard({ 'in.1/preamp/polarity': true }, 'in.1', 'preamp').audible).toBe(true);
  });

  test('a stereo width is heard, and more the further it goes', () => {
    const narrower = (to: number) => heard({ 'in.1/pan/width': to }, 'in.1', 'pan').heard;
    expect(narrower(80)).toBeGreaterThan(0);
    expect(narrower(0)).toBeGreaterThan(narrower(80));
  });

  test('a send that is switched off counts as far as its level was, not as that of the other side', () => {
    const off = (level: number) =>
      heard({ 'in.1/sends/fx.1/on': false, 'in.1/sends/fx.1/level': 0 }, 'in.1', 'sends', {
        'in.1/sends/fx.1/level': level,
        'in.1/sends/fx.1/on': true,
      }).heard;
    expect(off(-6)).toBeGreaterThan(off(-40));
  });

  test('a processor that is switched off is a change, and so is one in another place of the chain', () => {
    const drive = { 'in.1/inserts/1/kind': 'drive', 'in.1/inserts/1/on': true };
    expect(heard({ 'in.1/inserts/1/on': false }, 'in.1', 'inserts', drive).audible).toBe(true);
    const moved = { 'in.1/inserts/1/kind': 'empty', 'in.1/inserts/2/kind': 'drive', 'in.1/inserts/2/on': true };
    expect(heard(moved, 'in.1', 'inserts', drive).audible).toBe(true);
  });

  test('a mute lane that opens or closes counts for more than a decibel', () => {
    const closes: Curve = [[0, 1]];
    expect(heard({ 'in.1/automation/mute': closes }, 'in.1', 'automation').heard).toBeGreaterThan(1);
  });

  test('nothing is heard to differ by more than what one can hear at all', () => {
    const gone = heard({ 'in.1/fader/level': -90 }, 'in.1', 'fader', { 'in.1/fader/level': 10 });
    expect(gone.heard).toBe(MAX_AUDIBILITY_DB);
  });

  test('what is only written stands behind everything that is heard', () => {
    const { cells } = compare(
      boathouse,
      open,
      withSettings(open, {
        'in.1/label/note': 'Behind the bridge',
        'in.2/fader/level': -11,
        'in.3/label/name': 'Fiddle',
      }),
    );
    expect(cells.map(({ audible }) => audible)).toEqual([true, false, false]);
  });
});

describe('outputs', () => {
  const outputs = (from: SettingsByAddress, to: SettingsByAddress) =>
    outputDifferences(boathouse, withSettings(open, from), withSettings(open, to));

  test('one that moved by less than half a decibel is not listed', () => {
    expect(outputs({ 'main.1/fader/level': 0 }, { 'main.1/fader/level': 0.4 })).toEqual([]);
    expect(outputs({ 'main.1/fader/level': 0 }, { 'main.1/fader/level': 0.6 })).toHaveLength(1);
  });

  test('sources that have nothing to do with one another add up as powers: one that is 6 dB lower adds 0.97 dB', () => {
    const all = Object.fromEntries(Array.from({ length: 16 }, (_, i) => [`in.${i + 1}/fader/level`, -90]));
    const one = { ...all, 'in.1/fader/level': -10 };
    const [main] = outputs(one, { ...one, 'in.2/fader/level': -16 }).filter(({ output }) => output === 'main.1');
    expect(main!.b - main!.a).toBeCloseTo(10 * Math.log10(1 + 10 ** (-6 / 10)), 6);
  });
});
