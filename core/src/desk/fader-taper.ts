import type { NumberSpec } from './setting';

/** Where levels stand along a fader: `[dB, place]`, place 0 at the bottom and 1 at the top. Ours: fine around 0 dB. */
const TAPER: readonly (readonly [decibels: number, place: number])[] = [
  [-60, 0],
  [-40, 0.18],
  [-20, 0.46],
  [-10, 0.64],
  [0, 0.81],
  [10, 1],
];

/** The levels that are marked along a fader, in dB. */
export const FADER_MARKS_DB: readonly number[] = TAPER.map(([decibels]) => decibels);

/** A level's place along a fader, 0 … 1; everything at or under −60 dB stands at 0. */
export const dbToPosition = (decibels: number): number => between(TAPER, decibels);

/** The level at a place along a fader, in dB; the very bottom is `off`, the level the desk calls off. */
export const positionToDb = (place: number, off: number): number =>
  place <= 0
    ? off
    : between(
        TAPER.map(([decibels, at]) => [at, decibels] as const),
        place,
      );

function between(points: readonly (readonly [number, number])[], x: number): number {
  const next = points.findIndex(([at]) => at >= x);
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last) return 0;
  if (next < 0) return last[1];
  const [a, b] = [points[next - 1] ?? first, points[next] ?? last];
  return a[0] === b[0] ? b[1] : a[1] + ((x - a[0]) / (b[0] - a[0])) * (b[1] - a[1]);
}

/** Where a value of any number setting stands on its line, 0 … 1: levels by the taper, frequencies by octaves. */
export function valueToPosition(spec: NumberSpec, value: number): number {
  if (spec.kind === 'level') return dbToPosition(value);
  if (spec.kind === 'frequency') return clamp(Math.log(value / spec.min) / Math.log(spec.max / spec.min));
  return clamp((value - spec.min) / (spec.max - spec.min));
}

/** The value at a place of a setting's line; the inverse of {@link valueToPosition}, not yet rounded to the desk's steps. */
export function positionToValue(spec: NumberSpec, place: number): number {
  const at = clamp(place);
  if (spec.kind === 'level') return Math.min(spec.max, positionToDb(at, spec.min));
  if (spec.kind === 'frequency') return spec.min * (spec.max / spec.min) ** at;
  return spec.min + at * (spec.max - spec.min);
}

const clamp = (x: number): number => Math.min(1, Math.max(0, x));
