import fc from 'fast-check';

import { movedTo } from '../../src/ui/order-list';

const list = (count: number) => Array.from({ length: count }, (_, i) => ({ id: `id-${i}`, name: `Item ${i}` }));
const order = (items: readonly { readonly id: string }[]) => items.map(({ id }) => Number(id.slice(3)));

test.each([
  [0, 3, [1, 2, 3, 0, 4]],
  [3, 0, [3, 0, 1, 2, 4]],
  [1, 2, [0, 2, 1, 3, 4]],
  [2, 2, [0, 1, 2, 3, 4]],
])('what is dragged from place %i onto place %i is there then, the others as they were', (from, to, expected) =>
  expect(order(movedTo(list(5), `id-${from}`, `id-${to}`))).toEqual(expected),
);

test('nothing is lost, whatever is dragged where, and what is not in the list moves nothing', () => {
  const place = fc.integer({ min: 0, max: 9 });
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 8 }), place, place, (count, from, to) => {
      const moved = movedTo(list(count), `id-${from}`, `id-${to}`);
      expect(order(moved).sort((a, b) => a - b)).toEqual(order(list(count)));
      if (from < count && to < count) expect(moved[to]?.id).toBe(`id-${from}`);
      else expect(moved).toEqual(list(count));
    }),
  );
});
