import { WireLog } from '@old-echo/desk-link/wire-log';

const log = (packets: number): WireLog => {
  const of = new WireLog();
  for (let i = 1; i <= packets; i++) of.add('to the desk', Uint8Array.of(i % 256));
  return of;
};
const numbers = (of: WireLog, after: number) => of.since(after).map(({ number }) => number);

test.each<[string, number, number, number[]]>([
  ['nothing went yet', 0, 0, []],
  ['some did', 3, 0, [1, 2, 3]],
  ['some are known', 3, 2, [3]],
  ['all are known', 3, 3, []],
  ['more are known than there are, as after a restart', 3, 500, []],
])('where %s', (_, packets, after, expected) => {
  expect(numbers(log(packets), after)).toEqual(expected);
});

test('the last thousand are kept, in their order', () => {
  const of = log(2345);
  expect(numbers(of, 0)).toEqual(Array.from({ length: 1000 }, (_, i) => 1346 + i));
  expect(numbers(of, 2340)).toEqual([2341, 2342, 2343, 2344, 2345]);
  expect(of.since(2344)[0]?.bytes).toEqual(Uint8Array.of(2345 % 256));
});
