import { countStrips, joinWithAnd, plural } from '../src/desk/format-value';

test('strips are counted once each, and the globals are no strip', () => {
  expect(countStrips(['in.1'])).toBe('1 strip');
  expect(countStrips(['in.1', 'in.2', 'in.1'])).toBe('2 strips');
  expect(countStrips(['in.1', 'desk.1', 'in.2'])).toBe('2 strips and the globals');
  expect(countStrips(['desk.1', 'desk.1'])).toBe('the globals');
  expect(countStrips([])).toBe('0 strips');
});

test('lists and counts read as one would say them', () => {
  expect([[], ['a'], ['a', 'b'], ['a', 'b', 'c']].map(joinWithAnd)).toEqual(['', 'a', 'a and b', 'a, b and c']);
  expect([plural(0, 'wish', 'wishes'), plural(1, 'strip'), plural(2, 'strip')]).toEqual([
    '0 wishes',
    '1 strip',
    '2 strips',
  ]);
});
