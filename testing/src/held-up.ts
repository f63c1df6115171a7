import { monitorEventLoopDelay } from 'node:perf_hooks';

import { measureStolen } from './stolen';

/** A page waits for hands and fades no longer than this, whatever anyone asks for or opens, in ms. */
export const MOST_HELD_MS = 100;
const MAX_ATTEMPTS = 10;

/**
 * The longest that nothing else went on while something was done, in ms of a machine that has its processors for itself; the shortest of
 * some times, since other tests use them too.
 */
export async function heldUpBy(work: () => Promise<unknown>): Promise<number> {
  let shortest = Infinity;
  for (let i = 0; i < MAX_ATTEMPTS && shortest > MOST_HELD_MS; i++) {
    const delay = monitorEventLoopDelay({ resolution: 5 });
    const stolen = measureStolen();
    delay.enable();
    await work();
    delay.disable();
    shortest = Math.min(shortest, (delay.max / 1e6) * (1 - stolen()));
  }
  return shortest;
}
