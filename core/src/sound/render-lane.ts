import type { Recording } from './recording';
import { type Advance, createStep, type StepRooms } from './render-node';
import type { StreamPlan } from './stream-plan';

/** What a thread is given to work out its share of mixes. */
export interface LaneHost extends Pick<StepRooms, 'window'> {
  readonly recording: (hash: string) => Recording;
  /** Waits until a step, by its number, may go on to a sample. @throws where it never may */
  readonly before: (step: number, to: number) => void;
  /** Says that a step has been worked out up to a sample. */
  readonly made: (step: number, to: number) => void;
  /** Takes what a step, by its number, has just made, from its window. */
  readonly take: (step: number, from: number, to: number) => void;
}

/** Works out those steps of mixes that one thread has, all of them a stretch further before the first goes on. */
export function renderLane(plan: StreamPlan, lane: number, host: LaneHost): void {
  const { frames, rate, end, stretch } = plan;
  const rooms = { window: host.window, recording: host.recording, frames, rate };
  const own = plan.steps.flatMap((step, number) =>
    step.lane === lane ? [{ ...step, number, made: step.begin, advance: undefined as Advance | undefined }] : [],
  );
  for (let at = plan.begin; at < end;) {
    const next = Math.min(end, (Math.floor(at / stretch) + 1) * stretch);
    for (const step of own) {
      const { number, lead } = step;
      const to = Math.min(frames, next + lead);
      if (to <= step.made) continue;
      host.before(number, to);
      // Not before it may go on: many steps take a while to be made.
      step.advance ??= createStep(step.nodes, rooms, step.begin);
      step.advance(to);
      // Whoever hears that it is made finds it where it was taken to.
      host.take(number, step.made, to);
      host.made(number, to);
      step.made = to;
    }
    at = next;
  }
}
