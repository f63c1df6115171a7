import fc from 'fast-check';

import { fromWire, mappingFault, toWire, type ValueMapping } from '../../../src/desk/link-map/value-mapping';
import { type NumberSpec, quantise, type SettingSpec, validateValue } from '../../../src/desk/setting';

const level: NumberSpec = { kind: 'level', unit: 'dB', min: -90, max: 10, step: 0.1, default: -90 };
const frequency: NumberSpec = { kind: 'frequency', unit: 'Hz', min: 20, max: 20_000, step: 1, default: 1000 };
const onOff: SettingSpec = { kind: 'switch', default: false };
const tap: SettingSpec = { kind: 'choice', options: ['pre', 'post'], default: 'pre' };
const lane: SettingSpec = { kind: 'curve', unit: 'dB', min: -90, max: 10, step: 0.1, longest: 9, default: [] };

const POINTS: ValueMapping = {
  as: 'points',
  points: [
    [-90, 0],
    [-20, 0.4],
    [0, 0.75],
    [10, 1],
  ],
};

test.each<[string, ValueMapping, SettingSpec, number | boolean | string, number | boolean | string]>([
  ['a level in dB', { as: 'same' }, level, -6, -6],
  ['the middle of a line', { as: 'linear', from: 0, to: 1 }, level, -40, 0.5],
  ['a line the other way round', { as: 'linear', from: 127, to: 0 }, level, 10, 0],
  // 632.46 Hz lies in the middle of 20 Hz and 20 kHz on a logarithmic scale: their geometric mean.
  ['the middle of ten octaves', { as: 'logarithmic', from: 0, to: 1 }, frequency, Math.sqrt(20 * 20_000), 0.5],
  ['between two points', POINTS, level, -10, 0.575],
  ['on a point', POINTS, level, 0, 0.75],
  ['at the bottom', POINTS, level, -90, 0],
  ['a switch that is open where we say muted', { as: 'switch', off: true, on: false }, onOff, true, false],
  ['a switch in words', { as: 'switch', off: 'OPEN', on: 'SHUT' }, onOff, false, 'OPEN'],
  ['an option by its number', { as: 'numbered', first: 1 }, tap, 'post', 2],
  ['an option by its name', { as: 'named', names: { pre: 'early', post: 'late' } }, tap, 'post', 'late'],
])('%s is on the wire, and back', (_, mapping, spec, value, wire) => {
  expect(mappingFault(mapping, spec)).toBeUndefined();
  const sent = toWire(mapping, spec, value);
  if (typeof wire === 'number') expect(sent).toBeCloseTo(wire, 9);
  else expect(sent).toBe(wire);
  const back = fromWire(mapping, spec, wire);
  if (typeof value === 'number') expect(back).toBeCloseTo(value, 6);
  else expect(back).toBe(value);
});

test('a switch that was sent as 1 is on', () => {
  expect(fromWire({ as: 'same' }, onOff, 1)).toBe(true);
});

test.each<[string, ValueMapping, SettingSpec, RegExp]>([
  ['a logarithm of nothing', { as: 'logarithmic', from: 0, to: 1 }, level, /above 0/],
  ['a line without length', { as: 'linear', from: 1, to: 1 }, level, /both ends/],
  ['a line for a switch', { as: 'linear', from: 0, to: 1 }, onOff, /for numbers/],
  ['one point', { as: 'points', points: [[0, 0]] }, level, /two points/],
  [
    'points that turn back',
    {
      as: 'points',
      points: [
        [-90, 0],
        [0, 0.8],
        [10, 0.7],
      ],
    },
    level,
    /rise or fall all the way/,
  ],
  [
    'points out of order',
    {
      as: 'points',
      points: [
        [-90, 0],
        [10, 1],
        [0, 0.5],
      ],
    },
    level,
    /must rise/,
  ],
  [
    'points that end early',
    {
      as: 'points',
      points: [
        [-90, 0],
        [0, 1],
      ],
    },
    level,
    /from -90 to 10 dB/,
  ],
  ['on that is off', { as: 'switch', off: 0, on: 0 }, onOff, /the same/],
  ['an option without a name', { as: 'named', names: { pre: 'early' } }, tap, /nothing for post/],
  ['two options of one name', { as: 'named', names: { pre: 1, post: 1 } }, tap, /the same/],
  ['numbers for a switch', { as: 'numbered', first: 0 }, onOff, /for choices/],
  ['a lane of automation', { as: 'same' }, lane, /no mapping/],
])('%s cannot be mapped', (_, mapping, spec, why) => {
  expect(mappingFault(mapping, spec)).toMatch(why);
});

/** What a single-precision float makes of a number. */
const single = (value: number) => new Float32Array([value])[0]!;

test('every value of every range comes back from a single-precision float as it was', () => {
  const mappings: readonly [ValueMapping, NumberSpec][] = [
    [{ as: 'linear', from: 0, to: 1 }, level],
    [{ as: 'linear', from: 1000, to: -1000 }, level],
    [POINTS, level],
    [{ as: 'logarithmic', from: 0, to: 1 }, frequency],
    [{ as: 'logarithmic', from: 1, to: 0 }, frequency],
  ];
  fc.assert(
    fc.property(fc.constantFrom(...mappings), fc.double({ min: 0, max: 1, noNaN: true }), ([mapping, spec], place) => {
      const value = quantise(spec, spec.min + place * (spec.max - spec.min));
      const wire = single(Number(toWire(mapping, spec, value)));
      expect(validateValue(spec, fromWire(mapping, spec, wire))).toEqual({ ok: true, value });
    }),
  );
});

test('a desk with few steps is sent one of them, and the nearest', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1000 }), fc.double({ min: -90, max: 10, noNaN: true }), (steps, value) => {
      const exact = Number(toWire(POINTS, level, value));
      const sent = Number(toWire({ ...POINTS, steps }, level, value));
      expect(Math.abs(sent * steps - Math.round(sent * steps))).toBeLessThan(1e-9);
      expect(Math.abs(sent - exact)).toBeLessThanOrEqual(0.5 / steps + 1e-12);
    }),
  );
});
