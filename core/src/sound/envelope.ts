import type { Curve } from '../desk/setting';
import { dbToFactor } from '../signal/sound';

/** Fills an array with what a lane is at as many samples in a row, from one on. */
export type Envelope = (into: Float32Array, from: number) => void;

/** A jump takes this long, in seconds, so that it makes no click. */
const CLICK_RAMP_SECONDS = 0.005;

/** A lane between two points, in samples. */
interface Segment {
  readonly from: number;
  readonly to: number;
  readonly start: number;
  readonly end: number;
}

/** What a lane of levels is, as factors: straight in dB between points; at or under `off` dB nothing passes. */
export const levelEnvelope = (lane: Curve, off: number, rate: number): Envelope =>
  createEnvelope(lane, rate, (into, stretch, at) => {
    if (stretch.start <= off && stretch.end <= off) {
      into.fill(0);
      return;
    }
    const [first, last] = [Math.max(off, stretch.start), Math.max(off, stretch.end)];
    const slope = (last - first) / (stretch.to - stretch.from);
    const step = dbToFactor(slope);
    let by = dbToFactor(first + slope * at);
    for (let i = 0; i < into.length; i++, by *= step) into[i] = by;
  });

/** What a lane of plain values is: straight between points. */
export const valueEnvelope = (lane: Curve, rate: number): Envelope =>
  createEnvelope(lane, rate, (into, { from, to, start, end }, at) => {
    const slope = (end - start) / (to - from);
    for (let i = 0; i < into.length; i++) into[i] = start + slope * (at + i);
  });

/** What a lane of mutes lets through: 1 while it is open, 0 while it is muted; it holds until its next point. */
export function muteEnvelope(lane: Curve, rate: number): Envelope {
  const held = lane.flatMap(([at, value], i): [number, number][] => {
    const before = lane[i - 1]?.[1];
    return before === undefined
      ? [[at, 1 - value]]
      : [
          [at, 1 - before],
          [at + CLICK_RAMP_SECONDS, 1 - value],
        ];
  });
  return valueEnvelope(held, rate);
}

/** Fills what is asked for stretch by stretch; `fill` is given where in the stretch it begins. */
function createEnvelope(
  lane: Curve,
  rate: number,
  fill: (into: Float32Array, stretch: Segment, at: number) => void,
): Envelope {
  const stretches = segments(lane, rate);
  let n = 0;
  return (into, from) => {
    if (from < (stretches[n]?.from ?? 0)) n = 0;
    for (let i = 0; i < into.length;) {
      let stretch = stretches[n]!;
      while (stretch.to <= from + i) stretch = stretches[++n]!;
      const end = Math.min(into.length, stretch.to - from);
      fill(into.subarray(i, end), stretch, from + i - stretch.from);
      i = end;
    }
  };
}

/** A lane from one point to the next; flat before the first and, without an end, after the last. */
function segments(lane: Curve, rate: number): readonly Segment[] {
  const ramp = Math.round(CLICK_RAMP_SECONDS * rate);
  const stretches: Segment[] = [];
  let [from, value] = [0, lane[0]?.[1] ?? 0];
  for (const [seconds, next] of lane) {
    const moment = Math.round(seconds * rate);
    // Two points at the same moment are a jump.
    const jumps = from > 0 && moment <= from && next !== value;
    const to = Math.max(moment, from + (jumps ? ramp : 0));
    if (to > from) stretches.push({ from, to, start: value, end: next });
    [from, value] = [to, next];
  }
  return [...stretches, { from, to: Infinity, start: value, end: value }];
}
