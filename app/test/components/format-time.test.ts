import { when, whenInText } from '../../src/components/format-time';

beforeEach(() => {
  jest.useFakeTimers({ now: new Date(2026, 10, 28, 0, 30) });
});
afterEach(() => {
  jest.useRealTimers();
});

const at = (...time: [month: number, day: number, hour: number, minute: number]) =>
  new Date(2026, ...time).toISOString();

test.each([
  ['the same day', at(10, 28, 0, 5), 'Today 00:05', 'today 00:05'],
  ['the evening before, an hour ago', at(10, 27, 23, 30), 'Yesterday 23:30', 'yesterday 23:30'],
  ['two days before', at(10, 26, 23, 59), '26 Nov 23:59', '26 Nov 23:59'],
  ['the same day of another month', at(9, 28, 9, 0), '28 Oct 09:00', '28 Oct 09:00'],
])('%s is told by itself and after other words', (_, time, alone, after) => {
  expect([when(time), whenInText(time)]).toEqual([alone, after]);
});
