import fc from 'fast-check';

import { learnMapping } from '@old-echo/core/desk/learn/learn-mapping';
import { learnTemplate } from '@old-echo/core/desk/learn/learn-template';
import { fewValues, lessonsOf, shownValues } from '@old-echo/core/desk/learn/lessons';
import { fillTemplate } from '@old-echo/core/desk/link-map/template';
import { toWire, type ValueMapping } from '@old-echo/core/desk/link-map/value-mapping';
import type { NumberSpec, SettingSpec } from '@old-echo/core/desk/setting';
import { addressesOf } from '@old-echo/core/desk/state';
import { PROFILES } from '@old-echo/testing/profiles';

const place = (name: string) =>
  fc
    .record({ offset: fc.constantFrom(-1, 0, 1, 31), digits: fc.constantFrom(0, 2, 3) })
    .map(
      ({ offset, digits }) =>
        `{${name}${offset === 0 ? '' : offset > 0 ? `+${offset}` : offset}${digits ? `:${digits}` : ''}}`,
    );

test('where numbers stand in an address follows from one control and one neighbour for each number', () => {
  fc.assert(
    fc.property(
      place('n'),
      place('m'),
      fc.boolean(),
      fc.integer({ min: 1, max: 60 }),
      fc.integer({ min: 1, max: 60 }),
      (n, m, swapped, a, b) => {
        const template = swapped ? `/pour/${m}/to/${n}/4` : `/row/${n}/tone/${m}`;
        const example = (numbers: { n: number; m: number }) => ({ numbers, text: fillTemplate(template, numbers) });
        const examples = [example({ n: 2, m: 1 }), example({ n: 16, m: 1 }), example({ n: 2, m: 6 })];
        const learned = learnTemplate(examples) ?? '';
        expect(fillTemplate(learned, { n: a, m: b })).toBe(fillTemplate(template, { n: a, m: b }));
      },
    ),
  );
});

test.each([
  ['are spelt in another way', ['/row/2/loud', '/line/3/loud']],
  ['do not follow their numbers', ['/row/2/loud', '/row/7/loud', '/row/8/loud']],
  ['are all the same', ['/loud', '/loud', '/loud']],
])('addresses that %s are no rule', (_, texts) => {
  expect(learnTemplate(texts.map((text, i) => ({ numbers: { n: i + 2 }, text })))).toBeUndefined();
});

const fader: NumberSpec = { kind: 'level', unit: 'dB', min: -90, max: 10, step: 0.1, default: -90 };
const hertz: NumberSpec = { kind: 'frequency', unit: 'Hz', min: 40, max: 16_000, step: 1, default: 1000 };
const choice = (...options: string[]): SettingSpec => ({ kind: 'choice', options, default: options[0] ?? '' });

test.each<[string, SettingSpec, 'i' | 'f' | 's' | 'T/F', ValueMapping]>([
  ['decibels as they are', fader, 'f', { as: 'same' }],
  ['the range from 0 to 1', fader, 'f', { as: 'linear', from: 0, to: 1 }],
  ['the range the other way round', fader, 'f', { as: 'linear', from: 1023, to: 0 }],
  [
    'the scale of a fader',
    fader,
    'f',
    {
      as: 'points',
      points: [
        [-90, 0],
        [-50, 0.1],
        [-20, 0.4],
        [0, 0.75],
        [10, 1],
      ],
    },
  ],
  ['octaves', hertz, 'f', { as: 'logarithmic', from: 0, to: 1 }],
  ['a mute that is open', { kind: 'switch', default: false }, 'T/F', { as: 'switch', off: true, on: false }],
  ['on as 127', { kind: 'switch', default: false }, 'i', { as: 'switch', off: 0, on: 127 }],
  ['options by number, from 1', choice('a', 'b', 'c'), 'i', { as: 'numbered', first: 1 }],
  ['options by words', choice('pre', 'post'), 's', { as: 'named', names: { pre: 'early', post: 'late' } }],
])('%s: known from the values that are shown', (_, spec, type, mapping) => {
  const pairs = shownValues(spec).map((value) => ({ value, wire: toWire(mapping, spec, value) ?? '' }));
  const [found] = learnMapping(spec, type, pairs) ?? [];
  // On either side of every value that was shown as well.
  for (const value of [
    ...shownValues(spec),
    ...(spec === fader ? [-55, -35, -3, 7.5] : spec === hertz ? [100, 5000] : []),
  ]) {
    const [wire, own] = [toWire(found!, spec, value), toWire(mapping, spec, value)];
    if (typeof own === 'number' && typeof wire === 'number') expect(wire).toBeCloseTo(own, 3);
    else expect(Number(wire) === Number(own) || wire === own).toBe(true);
  }
});

test('a meter that comes by is no fader, and what says the same of two values says nothing', () => {
  const values = shownValues(fader);
  const meter = values.map((value, i) => ({ value, wire: 0.1 + i * 0.07 }));
  expect(learnMapping(fader, 'f', meter)).toBeUndefined();
  expect(
    learnMapping(
      fader,
      'f',
      values.map((value) => ({ value, wire: 0.5 })),
    ),
  ).toBeUndefined();
});

test.each(PROFILES)('of %s each setting but automation is in one lesson, which is a fraction of them', (_, profile) => {
  const lessons = lessonsOf(profile);
  const moves = lessons.reduce((sum, { spec, neighbours }) => sum + fewValues(spec).length + neighbours.length, 0);
  expect(new Set(lessons.map(({ pattern }) => pattern)).size).toBe(lessons.length);
  expect(moves).toBeLessThan(addressesOf(profile).length / 2);
  for (const { neighbours, shown } of lessons)
    for (const { setting, numbers } of neighbours) {
      expect(setting).not.toBe(shown.setting);
      const differs = Object.keys(numbers).filter((name) => numbers[name] !== shown.numbers[name]);
      expect(differs).toHaveLength(1);
    }
});
