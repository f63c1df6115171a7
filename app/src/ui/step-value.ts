import { type NumberSpec, quantise } from '@old-echo/core/desk/setting';

/** Below this, in dB, a level is stepped to off and back at once. */
const FLOOR_DB = -60;

/**
 * A value some steps on, by key or by button: half a dB, a twelfth of an octave or a hundredth of the range each, but never less than the
 * desk can move; `fine` is that. It goes the way it was asked to, or stays at the end of the range.
 */
export function stepValue(spec: NumberSpec, value: number, steps: number, fine: boolean): number {
  const way = Math.sign(steps);
  const isLow = spec.kind === 'level' && !fine && value <= FLOOR_DB;
  if (isLow && way < 0) return spec.min;
  const to = fine ? value + steps * spec.step : coarse(spec, isLow ? FLOOR_DB : value, steps);
  const least = quantise(spec, value + way * spec.step);
  const next = quantise(spec, to);
  return way > 0 ? Math.max(next, least) : Math.min(next, least);
}

function coarse(spec: NumberSpec, value: number, steps: number): number {
  if (spec.unit === 'dB') return value + steps * 0.5;
  if (spec.kind === 'frequency') return value * 2 ** (steps / 12);
  return value + steps * Math.max(spec.step, (spec.max - spec.min) / 100);
}
