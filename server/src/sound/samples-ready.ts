import type { Flow } from '@old-echo/core/sound/render';

/** How many samples of a sound are there, where every thread can see it. */
export type Level = Int32Array;

/** Where a sound will never be whole. */
const SPOILT = -1;
/** Samples after which those who follow are told: fewer wake them too often, more make them wait. */
const STRIDE = 16_384;

export const newLevel = (): Level => new Int32Array(new SharedArrayBuffer(Int32Array.BYTES_PER_ELEMENT));

function tell(level: Level, frames: number): void {
  Atomics.store(level, 0, frames);
  Atomics.notify(level, 0);
}

/** Lets those who follow know that no more will come. */
export const spoil = (level: Level): void => tell(level, SPOILT);

/** How a thread that writes up to `own` keeps behind others. @throws Error in `reached`, where what it needs was spoilt */
export function flowBehind(levels: Readonly<Record<string, Level>>, own: Level): Flow {
  const seen = new Map<string, number>();
  let told = 0;
  return {
    reached: (key, frames) => {
      const level = levels[key];
      if (!level || (seen.get(key) ?? 0) >= frames) return;
      let now = Atomics.load(level, 0);
      for (; now < frames && now !== SPOILT; now = Atomics.load(level, 0)) Atomics.wait(level, 0, now);
      if (now === SPOILT) throw new Error('what this step needs could not be worked out');
      seen.set(key, now);
    },
    made: (frames) => {
      if (frames - told < STRIDE) return;
      told = frames;
      tell(own, frames);
    },
  };
}

/** Says that all of a sound is there. */
export const fill = (level: Level, frames: number): void => tell(level, frames);

/** Whether somebody still writes what this is the level of. */
export const isRising = (level: Level, frames: number): boolean => Atomics.load(level, 0) < frames;
