import fc from 'fast-check';

import { isNumberSpec, type NumberSpec, quantise } from '@old-echo/core/desk/setting';
import { netloft, PROFILES } from '@old-echo/testing/profiles';

import { stepValue } from '../../src/ui/step-value';

const SPECS = [...PROFILES.map(([, profile]) => profile), netloft].flatMap(({ families }) =>
  families.flatMap(({ settings }) => Object.values(settings).filter(isNumberSpec)),
);
const fader: NumberSpec = { kind: 'level', unit: 'dB', min: -90, max: 10, step: 0.1, default: -90 };

test('a step of any control of any desk goes the way it was asked to, and only its end stops it', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...SPECS),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.constantFrom(-10, -1, 1, 10),
      fc.boolean(),
      (spec, part, steps, fine) => {
        const value = quantise(spec, spec.min + part * (spec.max - spec.min));
        const next = stepValue(spec, value, steps, fine);
        expect(next).toBe(quantise(spec, next));
        if (steps > 0) expect(value === spec.max ? next === value : next > value).toBe(true);
        else expect(value === spec.min ? next === value : next < value).toBe(true);
      },
    ),
    { numRuns: 3000 },
  );
});

test('a fader that is off stays off on the way down, and comes up where it can be heard; it goes off below that', () => {
  expect(stepValue(fader, -90, -1, false)).toBe(-90);
  expect(stepValue(fader, -90, 1, false)).toBe(-59.5);
  expect(stepValue(fader, -60, -1, false)).toBe(-90);
  expect(stepValue(fader, -59.8, -1, false)).toBe(-60.3);
  expect(stepValue(fader, -6, 1, false)).toBe(-5.5);
  expect(stepValue(fader, -6, 1, true)).toBe(-5.9);
});
