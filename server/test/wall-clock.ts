const HOUR = 3_600_000;

/** How a clock on a wall is set, in ms. */
export const JUMPS = [
  ['an hour on', HOUR],
  ['an hour back', -HOUR],
  ['a day on', 24 * HOUR],
] as const;

/** Everything but the clock on the wall goes on as it does. */
const REAL = [
  'hrtime',
  'nextTick',
  'performance',
  'queueMicrotask',
  'setImmediate',
  'clearImmediate',
  'setInterval',
  'clearInterval',
  'setTimeout',
  'clearTimeout',
] as const;

/** Sets the clock on the wall, until `jest.useRealTimers`. @param jump in ms */
export const setWallClock = (jump: number): unknown =>
  jest.useFakeTimers({ doNotFake: [...REAL], now: Date.now() + jump });
