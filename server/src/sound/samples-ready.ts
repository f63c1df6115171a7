import type { Flow } from '@old-echo/core/sound/render';

/** Frames ready so far, shared between threads. */
export type SamplesReady = Int32Array;

/** Where a sound will never be whole. */
const FAILED = -1;
/** Frames between two notifications: fewer wake the waiting threads too often, more make them wait. */
const NOTIFY_EVERY_FRAMES = 16_384;

export const newLevel = (): SamplesReady => new Int32Array(new SharedArrayBuffer(Int32Array.BYTES_PER_ELEMENT));

function notify(level: SamplesReady, frames: number): void {
  Atomics.store(level, 0, frames);
  Atomics.notify(level, 0);
}

/** Lets those who follow know that no more will come. */
export const markFailed = (level: SamplesReady): void => notify(level, FAILED);

/** How a thread that writes up to `own` keeps behind others. @throws Error in `reached`, where what it needs was spoilt */
export function createStreamSync(levels: Readonly<Record<string, SamplesReady>>, own: SamplesReady): Flow {
  const seen = new Map<string, number>();
  let told = 0;
  return {
    reached: (key, frames) => {
      const level = levels[key];
      if (!level || (seen.get(key) ?? 0) >= frames) return;
      let now = Atomics.load(level, 0);
      for (; now < frames && now !== FAILED; now = Atomics.load(level, 0)) Atomics.wait(level, 0, now);
      if (now === FAILED) throw new Error('what this step needs could not be worked out');
      seen.set(key, now);
    },
    made: (frames) => {
      if (frames - told < NOTIFY_EVERY_FRAMES) return;
      told = frames;
      notify(own, frames);
    },
  };
}

/** Says that all of a sound is there. */
export const markComplete = (level: SamplesReady, frames: number): void => notify(level, frames);

/** Whether somebody still writes what this is the level of. */
export const isIncomplete = (level: SamplesReady, frames: number): boolean => Atomics.load(level, 0) < frames;
