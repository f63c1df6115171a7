import fc from 'fast-check';

import { compileSettingPattern, fillTemplate, templateFault } from '../../../src/desk/link-map/template';

test.each<[string, string, Record<string, number> | undefined]>([
  ['in.{n}/fader/level', 'in.7/fader/level', { n: 7 }],
  ['in.{n}/fader/level', 'in.7/fader/levels', undefined],
  ['in.{n}/fader/level', 'fx.in.7/fader/level', undefined],
  ['in.{n}/sends/mix.{m}/level', 'in.12/sends/mix.3/level', { n: 12, m: 3 }],
  ['main.1/mute/on', 'main.1/mute/on', {}],
  // The dot is a dot.
  ['main.1/mute/on', 'mainx1/mute/on', undefined],
])('%s finds in %s', (pattern, address, found) => {
  expect(compileSettingPattern(pattern)?.(address)).toEqual(found);
});

test.each(['in.{}/x/y', 'in.{N}/x/y', 'in.{n/x/y', 'in.{n}/sends/mix.{n}/level', 'in.{n-1}/x/y'])(
  '%s is no pattern',
  (pattern) => {
    expect(compileSettingPattern(pattern)).toBeUndefined();
  },
);

test.each([
  ['/row/{n}', '/row/7'],
  ['/row/{n:2}', '/row/07'],
  ['/row/{n-1:2}/x', '/row/06/x'],
  ['/pour/{m+10}/{n:3}', '/pour/13/007'],
  ['/whole/loud', '/whole/loud'],
])('%s is filled to %s', (template, filled) => {
  expect(templateFault(template, ['n', 'm'])).toBeUndefined();
  expect(fillTemplate(template, { n: 7, m: 3 })).toBe(filled);
});

test.each([
  ['/row/{q}', '{q} is not in its setting'],
  ['/row/{n*2}', 'a place for a number is {n}, {n-1} or {n:2}'],
  ['/row/{n', 'a place for a number is {n}, {n-1} or {n:2}'],
])('%s cannot be filled', (template, why) => {
  expect(templateFault(template, ['n'])).toBe(why);
});

test('what a pattern finds fills the pattern again', () => {
  fc.assert(
    fc.property(fc.nat(9999), fc.nat(9999), (n, m) => {
      const address = `in.${n}/sends/mix.${m}/level`;
      const pattern = 'in.{n}/sends/mix.{m}/level';
      expect(fillTemplate(pattern, compileSettingPattern(pattern)?.(address) ?? {})).toBe(address);
    }),
  );
});
