/** A part of a song, in seconds. */
export type LoopRange = readonly [from: number, to: number];

/** The shortest part that repeats, in seconds: its loudness can still be told. */
const SHORTEST = 0.5;

/** A first touch repeats from here to the end, a second one sets the end, a third plays on. */
export function nextLoop(range: LoopRange | null, place: number, seconds: number): LoopRange | null {
  if (!range) return [Math.max(0, Math.min(place, seconds - SHORTEST)), seconds];
  return range[1] === seconds && place - range[0] >= SHORTEST ? [range[0], place] : null;
}
