import { asLane, type Curve, type Value } from '../desk/setting';

/** The value of a lane at a time, or undefined for a lane without points: straight between points, flat outside them. */
export function valueAtTime(lane: Curve, seconds: number): number | undefined {
  let before = lane[0];
  if (!before) return undefined;
  for (const point of lane) {
    if (point[0] > seconds) {
      const span = point[0] - before[0];
      return span > 0 && before[0] <= seconds
        ? before[1] + ((point[1] - before[1]) * (seconds - before[0])) / span
        : before[1];
    }
    before = point;
  }
  return before[1];
}

/** The lane that stands under a key, with the jumps of one that holds, a mute, as two points at the same moment. */
export function laneWithSteps(key: string, value: Value | undefined): Curve {
  const lane = asLane(value);
  if (key !== 'automation/mute') return lane;
  return lane.flatMap(([at, next], i) => {
    const before = lane[i - 1];
    return before ? [[at, before[1]] as const, [at, next] as const] : [[at, next] as const];
  });
}

/** The last time at which a lane has a point, in seconds. */
export const laneDuration = (lane: Curve): number => lane.at(-1)?.[0] ?? 0;

/** Moments at which two lanes are compared. */
const SAMPLE_POINTS = 200;

/**
 * How far two lanes lie apart: the mean distance over the time that either covers, in the lane's unit. A lane without
 * points stands at `still`, what the control itself is set to.
 */
export function laneDistance(a: Curve, b: Curve, stillA: number, stillB: number): number {
  const end = Math.max(laneDuration(a), laneDuration(b));
  let sum = 0;
  for (let i = 0; i < SAMPLE_POINTS; i++) {
    const at = (end * (i + 0.5)) / SAMPLE_POINTS;
    sum += Math.abs((valueAtTime(b, at) ?? stillB) - (valueAtTime(a, at) ?? stillA));
  }
  return sum / SAMPLE_POINTS;
}
