import { monitorEventLoopDelay } from 'node:perf_hooks';

import { measureStolen } from './stolen';

/** What measures real time says nothing where the process was held up for longer than this, in ms, ... */
const HELD_UP_MS = 100;
/** ... or where others took more than this part of the machine's time. */
const TAKEN_AWAY = 0.1;
const MAX_ATTEMPTS = 6;

/**
 * Makes tests of what happens in real time, such as a fade. Where one fails, and the machine is seen to have kept the process from
 * running meanwhile, it is done again: it has measured the machine. Where the machine was free, it has failed.
 * @param again makes everything as it was before the first attempt
 */
export const realTime =
  (again: () => Promise<unknown> = () => Promise.resolve()) =>
  <Args extends readonly unknown[]>(body: (...args: Args) => Promise<void>) =>
  async (...args: Args): Promise<void> => {
    for (let attempt = 1; ; attempt++) {
      const delay = monitorEventLoopDelay({ resolution: 5 });
      const stolenSince = measureStolen();
      delay.enable();
      try {
        return await body(...args);
      } catch (error) {
        const stolen = stolenSince();
        const heldUp = delay.max / 1e6;
        if (attempt === MAX_ATTEMPTS || (heldUp < HELD_UP_MS && stolen < TAKEN_AWAY)) throw error;
        console.warn(
          `Done again: held up for ${heldUp.toFixed(0)} ms, ${(stolen * 100).toFixed(0)} % of the time taken away.`,
        );
        await again();
      } finally {
        delay.disable();
      }
    }
  };
