import { setTimeout } from 'node:timers/promises';

/** How often, and with which pause in ms, something is tried to be written. */
const TRIES = 30;
const PAUSE = 1000;

/**
 * Writes what must not be lost although nobody waits for it any more, the end of long work; tried again for a while where
 * the database does not answer. @throws what the last try threw
 */
export async function untilWritten(write: () => Promise<unknown>): Promise<void> {
  for (let tries = 1; ; tries++)
    try {
      await write();
      return;
    } catch (error) {
      if (tries === TRIES) throw error;
      await setTimeout(PAUSE);
    }
}
