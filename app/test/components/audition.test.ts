import { clock } from '@old-echo/core/contracts/mix-note';

import { nextLoop } from '../../src/components/audition/loop-range';

test('repeating: from here to the end, then to here, then no more', () => {
  const first = nextLoop(null, 4, 32);
  expect(first).toEqual([4, 32]);
  const second = nextLoop(first, 12, 32);
  expect(second).toEqual([4, 12]);
  expect(nextLoop(second, 7, 32)).toBeNull();
});

test('a part is never shorter than its loudness can be told of, and lies in the song', () => {
  expect(nextLoop(null, 31.9, 32)).toEqual([31.5, 32]);
  // Too soon for an end: it plays on.
  expect(nextLoop([4, 32], 4.2, 32)).toBeNull();
  // Gone round, before its beginning: no part.
  expect(nextLoop([4, 32], 1, 32)).toBeNull();
});

test('places in the song', () => {
  expect([0, 7.9, 61].map(clock)).toEqual(['0:00', '0:07', '1:01']);
});
