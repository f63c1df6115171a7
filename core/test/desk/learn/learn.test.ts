import fc from 'fast-check';

import { learnMapping } from '@old-echo/core/desk/learn/learn-mapping';
import { filledQuestion, learnAsk, learnQuestion, typedMessage } from '@old-echo/core/desk/learn/learn-question';
import { standsAt } from '@old-echo/core/desk/learn/learn-rule';
import { learnTemplate } from '@old-echo/core/desk/learn/learn-template';
import { fewValues, lessonsOf, type Numbers, shownValues } from '@old-echo/core/desk/learn/lessons';
import { fillTemplate } from '@old-echo/core/desk/link-map/template';
import { toWire, type ValueMapping } from '@old-echo/core/desk/link-map/value-mapping';
import { parseProfile } from '@old-echo/core/desk/profile';
import type { NumberSpec, SettingSpec } from '@old-echo/core/desk/setting';
import { addressesOf } from '@old-echo/core/desk/state';
import { PROFILES, weirSource } from '@old-echo/testing/profiles';

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

describe('how a control is asked for', () => {
  const sends = lessonsOf(parseProfile(weirSource)).find(({ pattern }) => pattern === 'in.{n}/sends/mix.{m}/tap')!;
  const all = [sends.shown, ...sends.neighbours].map(({ numbers }) => numbers);
  const tapOf = ({ n = 0, m = 0 }: Numbers) => ((n + m) % 2 === 0 ? 'early' : 'late');
  const page = ({ m = 0 }: Numbers) => ({
    address: `/taps/${m}`,
    types: 's'.repeat(16),
    args: Array.from({ length: 16 }, (_, i) => tapOf({ n: i + 1, m })),
  });

  test('one question for a page of answers is learned from one control and its neighbours', () => {
    const { n, m } = sends.shown.numbers;
    const question = learnQuestion(sends, ` /tell/taps  ${m} `)!;
    expect(question).toEqual({ address: '/tell/taps', arguments: ['{m}'] });
    expect(filledQuestion(question, { n: 9, m: 4 })).toEqual({ address: '/tell/taps', arguments: [4] });
    expect(n).not.toBe(m);
    const answers = all.map((numbers) => ({ numbers, stands: tapOf(numbers), heard: [page(numbers)] }));
    expect(learnAsk(question, answers)).toEqual({ ...question, answer: '/taps/{m}', argument: '{n-1}' });
  });

  test('what is answered elsewhere than where it stands, or for one control alone, is no answer', () => {
    const question = learnQuestion(sends, `/tell/taps ${sends.shown.numbers['m']}`)!;
    const always = { address: '/taps/2', types: 's', args: ['nothing of the kind'] };
    expect(
      learnAsk(
        question,
        all.map((numbers) => ({ numbers, stands: 'early', heard: [always] })),
      ),
    ).toBeUndefined();
    const first = all.map((numbers, i) => ({ numbers, stands: tapOf(numbers), heard: i === 0 ? [page(numbers)] : [] }));
    expect(learnAsk(question, first)).toBeUndefined();
    expect(learnAsk(question, [])).toBeUndefined();
    expect(learnQuestion(sends, '   ')).toBeUndefined();
  });

  test('an address as an argument has its numbers replaced too, and other numbers stay numbers', () => {
    const names = lessonsOf(parseProfile(weirSource)).find(({ pattern }) => pattern === 'in.{n}/label/name')!;
    const { n = 0 } = names.shown.numbers;
    const question = learnQuestion(names, `/tell/called /row/${String(n).padStart(2, '0')}`)!;
    expect(filledQuestion(question, { n: 13 })).toEqual({ address: '/tell/called', arguments: ['/row/13'] });
    expect(typedMessage('/subscribe 10 all -2.5')).toEqual({ address: '/subscribe', arguments: [10, 'all', -2.5] });
  });

  test('how a control stands is read from what was heard where its rule says', () => {
    const rule = { setting: 'in.{n}/x', address: '/row/{n:2}/squeeze', argument: 1, type: 'f' } as const;
    const heard = [{ address: '/row/07/squeeze', types: 'if', args: [1, -30] }];
    expect(standsAt(rule, { n: 7 }, heard)).toBe(-30);
    expect(standsAt(rule, { n: 8 }, heard)).toBeUndefined();
  });
});
