import type { LaneHost } from '@old-echo/core/sound/render-lane';
import type { StreamPlan } from '@old-echo/core/sound/stream-plan';

/** How far each step of some mixes is, in samples, shared between the threads that work on them; and whether they may go on. */
export type LaneProgress = Int32Array;

const [GOES_ON, PAUSED, STOPPED] = [0, 1, 2];
/** A thread looks so often whether it may go on while it waits, in ms. */
const LOOK_MS = 200;

/** The place behind those of the steps says whether they may go on. */
const controlOf = (progress: LaneProgress): number => progress.length - 1;

export function newProgress({ steps }: StreamPlan): LaneProgress {
  const progress = new Int32Array(new SharedArrayBuffer((steps.length + 1) * Int32Array.BYTES_PER_ELEMENT));
  steps.forEach(({ begin }, n) => (progress[n] = begin));
  progress[controlOf(progress)] = GOES_ON;
  return progress;
}

/** Has all threads end what they are at. */
export const stopLanes = (progress: LaneProgress): void => control(progress, STOPPED);

/** Has all threads wait where they are. */
export const pauseLanes = (progress: LaneProgress): void => control(progress, PAUSED);

/** Has threads that wait go on. */
export const resumeLanes = (progress: LaneProgress): void => control(progress, GOES_ON);

/** What was stopped stays so. */
function control(progress: LaneProgress, how: number): void {
  const place = controlOf(progress);
  if (Atomics.load(progress, place) === STOPPED) return;
  Atomics.store(progress, place, how);
  for (let n = 0; n < progress.length; n++) Atomics.notify(progress, n);
}

/** How a thread keeps behind what it reads, and not further ahead of those who read it than there is room for. */
export function keepInStep(plan: StreamPlan, lane: number, progress: LaneProgress): Pick<LaneHost, 'before' | 'made'> {
  const rooms = new Map(plan.windows.map(({ key, room }) => [key, room]));
  const waits = plan.steps.map(({ nodes, reads, readBy, lookahead }) => ({
    reads: reads.filter((n) => plan.steps[n]?.lane !== lane),
    readBy: readBy.filter((n) => plan.steps[n]?.lane !== lane),
    lookahead,
    room: Math.min(...nodes.map(({ key }) => rooms.get(key) ?? plan.frames)),
  }));
  const waitFor = (step: number, to: number) => {
    for (let at = Atomics.load(progress, step); at < to; at = Atomics.load(progress, step)) {
      assertGoesOn();
      Atomics.wait(progress, step, at, LOOK_MS);
    }
  };
  const assertGoesOn = () => {
    const place = controlOf(progress);
    while (Atomics.load(progress, place) === PAUSED) Atomics.wait(progress, place, PAUSED, LOOK_MS);
    if (Atomics.load(progress, place) === STOPPED) throw new Error('stopped');
  };
  return {
    before: (step, to) => {
      assertGoesOn();
      const wait = waits[step];
      if (!wait) return;
      const { reads, readBy, lookahead, room } = wait;
      const ahead = Math.min(plan.frames, to + lookahead);
      for (const one of reads) waitFor(one, ahead);
      if (room < plan.frames) for (const one of readBy) waitFor(one, ahead - room);
    },
    made: (step, to) => {
      Atomics.store(progress, step, to);
      Atomics.notify(progress, step);
    },
  };
}
