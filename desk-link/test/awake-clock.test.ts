import fc from 'fast-check';

import { AwakeClock } from '../src/awake-clock';

/** A clock, and how its time passes. */
function clockAt(start: number) {
  let time = start;
  const clock = new AwakeClock(() => time);
  // The test looks at it; nothing else does.
  clock.stop();
  return { clock, pass: (ms: number) => (time += ms) };
}

test('while a program runs its time is that of the world', () => {
  const { clock, pass } = clockAt(1000);
  const began = clock.now();
  for (let i = 0; i < 80; i++) {
    pass(25);
    clock.now();
  }
  expect(clock.now() - began).toBe(2000);
});

test('a time in which it is held up is no more than a tick, whoever looks first afterwards', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 76, max: 60_000 }), { maxLength: 10 }), (stalls) => {
      const { clock, pass } = clockAt(5);
      const began = clock.now();
      for (const stall of stalls) {
        pass(stall);
        clock.now();
      }
      expect(clock.now() - began).toBe(25 * stalls.length);
    }),
  );
});

test('it never goes back', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 2000 }), { maxLength: 50 }), (steps) => {
      const { clock, pass } = clockAt(0);
      let before = clock.now();
      for (const step of steps) {
        pass(step);
        expect(clock.now()).toBeGreaterThanOrEqual(before);
        before = clock.now();
      }
    }),
  );
});
