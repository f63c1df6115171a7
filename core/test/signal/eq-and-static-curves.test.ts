import fc from 'fast-check';

import { quay, skiff } from '@old-echo/testing/profiles';

import { dbToPosition, positionToDb, positionToValue, valueToPosition } from '../../src/desk/fader-taper';
import { specOf } from '../../src/desk/profile';
import { isNumberSpec } from '../../src/desk/setting';
import { defaultState, withSettings } from '../../src/desk/state';
import { formatValue, fullSettingName } from '../../src/phrases/format-value';
import type { Band } from '../../src/signal/biquad';
import { activeBands, bandResponseDb, eqResponseDb, logSpacedFrequencies } from '../../src/signal/eq-curve';

const band = (kind: Band['kind'], freq: number, gain: number, q = 1): Band => ({ kind, freq, gain, q });

// R. Bristow-Johnson, Audio EQ Cookbook: the gain of a bell at its centre, half of a shelf's dB at its corner.
describe('EQ, after the Audio EQ Cookbook', () => {
  test('a bell has its gain at its centre and none far away', () => {
    fc.assert(
      fc.property(fc.integer({ min: 40, max: 16_000 }), fc.integer({ min: -18, max: 18 }), (freq, gain) => {
        expect(bandResponseDb(band('bell', freq, gain, 2), freq)).toBeCloseTo(gain, 6);
        expect(bandResponseDb(band('bell', freq, gain, 2), 0.01)).toBeCloseTo(0, 3);
      }),
    );
  });

  test.each([
    ['low shelf', 20, 18_000],
    ['high shelf', 18_000, 20],
  ] as const)('a %s has half its gain at its corner, all of it beyond, none before', (kind, beyond, before) => {
    for (const gain of [-12, -3, 6]) {
      expect(bandResponseDb(band(kind, 600, gain, Math.SQRT1_2), 600)).toBeCloseTo(gain / 2, 6);
      expect(bandResponseDb(band(kind, 600, gain, Math.SQRT1_2), beyond)).toBeCloseTo(gain, 1);
      expect(bandResponseDb(band(kind, 600, gain, Math.SQRT1_2), before)).toBeCloseTo(0, 1);
    }
  });

  test('a second-order low cut is 3 dB down at its corner and falls by 12 dB an octave', () => {
    const cut = band('low cut', 200, 0, Math.SQRT1_2);
    expect(bandResponseDb(cut, 200)).toBeCloseTo(-3.01, 2);
    expect(bandResponseDb(cut, 25) - bandResponseDb(cut, 50)).toBeCloseTo(-12.04, 1);
  });

  test('a strip’s curve is the sum of the bands that are on', () => {
    const strip = withSettings(defaultState(quay), {
      'in.1/eq/on': true,
      'in.1/eq/2/gain': 6,
      'in.1/eq/3/gain': -4,
      'in.1/eq/3/on': false,
    })['in.1']!;
    expect(activeBands(strip)).toHaveLength(3);
    expect(eqResponseDb(strip, [400])[0]).toBeCloseTo(6, 1);
    expect(eqResponseDb({ ...strip, 'eq/on': false }, [400])).toEqual([0]);
    const small = withSettings(defaultState(skiff), { 'in.1/eq/on': true, 'in.1/eq/high/gain': 6 })['in.1']!;
    expect(eqResponseDb(small, [18_000])[0]).toBeGreaterThan(4);
  });

  test('frequencies run from 20 Hz to 20 kHz in equal ratios', () => {
    const [a, b, c] = logSpacedFrequencies(3);
    expect([a, b, c].map((f) => Math.round(f ?? 0))).toEqual([20, 632, 20_000]);
  });
});

describe('a fader', () => {
  test('places rise with levels, and lead back to them', () => {
    for (let dB = -59.5; dB <= 10; dB += 0.5) {
      expect(positionToDb(dbToPosition(dB), -90)).toBeCloseTo(dB, 6);
      expect(dbToPosition(dB)).toBeGreaterThan(dbToPosition(dB - 0.5));
    }
    expect(positionToDb(0, -90)).toBe(-90);
  });

  test('every number setting of the Quay leads back to itself from its place on the line', () => {
    for (const family of quay.families)
      for (const spec of Object.values(family.settings).filter(isNumberSpec))
        for (const value of [spec.min, spec.default, spec.max]) {
          const shown = spec.kind === 'level' && value < -60 ? spec.min : value;
          expect(positionToValue(spec, valueToPosition(spec, value))).toBeCloseTo(shown, 4);
        }
  });
});

describe('values are written as engineers write them', () => {
  test.each([
    ['in.1/fader/level', -5, '\u22125.0 dB'],
    ['in.1/fader/level', -90, '\u2212∞'],
    ['in.1/fader/level', 0, '0.0 dB'],
    ['in.1/eq/2/gain', 2.5, '+2.5 dB'],
    ['in.1/eq/3/freq', 3200, '3.2 kHz'],
    ['in.1/eq/1/freq', 80, '80 Hz'],
    ['in.1/pan/position', -30, 'L 30'],
    ['in.1/pan/position', 0, 'C'],
    ['in.1/compressor/ratio', 3, '3 : 1'],
    ['in.1/eq/1/q', 0.7, 'Q 0.7'],
    ['in.1/preamp/phantom', true, 'on'],
  ])('%s at %s is %s', (address, value, text) => expect(formatValue(specOf(quay, address)!, value)).toBe(text));

  test.each([
    ['in.1/eq/2/gain', 'EQ band 2 gain'],
    ['in.1/sends/mix.3/level', 'Send to Mix 3'],
    ['in.1/sends/mix.3/tap', 'Send to Mix 3 pre-post'],
    ['in.1/eq/2/kind', 'EQ band 2 type'],
    ['in.1/routing/dca.2', 'Assigned to DCA 2'],
    ['in.1/source/socket', 'Source'],
    ['in.1/source/link', 'Stereo link'],
    ['in.1/fader/level', 'Fader'],
    ['in.1/preamp/phantom', 'Preamp 48 V'],
  ])('%s is called %s', (address, name) => expect(fullSettingName(quay, address)).toBe(name));
});
