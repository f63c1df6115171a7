import type { Curve } from '../desk/setting';
import { factor } from './sound';

/** A jump takes this long, in seconds, so that it makes no click. */
const RAMP = 0.005;

/** What a lane of levels is at every sample, as factors: straight in dB between points; at or under `off` dB nothing passes. */
export function levelEnvelope(lane: Curve, off: number, frames: number, rate: number): Float32Array {
  const envelope = new Float32Array(frames);
  along(lane, frames, rate, (from, to, start, end) => {
    const [first, last] = [Math.max(off, start), Math.max(off, end)];
    const step = to > from ? factor((last - first) / (to - from)) : 1;
    let by = factor(first);
    for (let i = from; i < to; i++, by *= step) envelope[i] = start <= off && end <= off ? 0 : by;
  });
  return envelope;
}

/** What a lane of plain values is at every sample: straight between points. */
export function valueEnvelope(lane: Curve, frames: number, rate: number): Float32Array {
  const envelope = new Float32Array(frames);
  along(lane, frames, rate, (from, to, start, end) => {
    for (let i = from; i < to; i++) envelope[i] = start + ((end - start) * (i - from)) / (to - from);
  });
  return envelope;
}

/** What a lane of mutes lets through at every sample: 1 while it is open, 0 while it is muted; it holds until its next point. */
export function muteEnvelope(lane: Curve, frames: number, rate: number): Float32Array {
  const held = lane.flatMap(([at, value], i): [number, number][] => {
    const before = lane[i - 1]?.[1];
    return before === undefined
      ? [[at, 1 - value]]
      : [
          [at, 1 - before],
          [at + RAMP, 1 - value],
        ];
  });
  return valueEnvelope(held, frames, rate);
}

/** Calls `each` for every stretch between two points, in samples; flat before the first and after the last. */
function along(
  lane: Curve,
  frames: number,
  rate: number,
  each: (from: number, to: number, start: number, end: number) => void,
): void {
  const ramp = Math.round(RAMP * rate);
  let [at, value] = [0, lane[0]?.[1] ?? 0];
  for (const [seconds, next] of lane) {
    const moment = Math.round(seconds * rate);
    // Two points at the same moment are a jump.
    const jumps = at > 0 && moment <= at && next !== value;
    const to = Math.min(frames, Math.max(moment, at + (jumps ? ramp : 0)));
    if (to > at) each(at, to, value, next);
    [at, value] = [to, next];
  }
  if (at < frames) each(at, frames, value, value);
}
