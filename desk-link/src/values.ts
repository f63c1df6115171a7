import {
  type Curve,
  isNumberSpec,
  type SettingSpec,
  type Validated,
  validateValue,
  type Value,
} from '@old-echo/core/desk/setting';

import { float, int, type OscArgument, text } from './codec';

/**
 * A value as OSC arguments: numbers as one float, switches as integer 1 or 0, names and texts as one string, curves as
 * the count of points followed by seconds and value of each (so that an empty curve is not taken for a query).
 */
export function toArguments(value: Value): OscArgument[] {
  if (typeof value === 'number') return [float(value)];
  if (typeof value === 'boolean') return [int(value ? 1 : 0)];
  if (typeof value === 'string') return [text(value)];
  return [int(value.length), ...value.flatMap(([seconds, at]) => [float(seconds), float(at)])];
}

/** Reads OSC arguments as a value of a setting, at the setting's own resolution, or says why they are not one. */
export function fromArguments(spec: SettingSpec, args: readonly OscArgument[]): Validated {
  const [first, ...rest] = args;
  if (!first) return { ok: false, why: 'a value is missing' };
  if (spec.kind === 'curve') {
    const numbers = rest.map((a) => a.value);
    if (first.type !== 'i' || numbers.length !== 2 * first.value)
      return { ok: false, why: 'a curve is its count of points, then seconds and value of each' };
    const points: Curve = Array.from({ length: first.value }, (_, i) => [
      Number(numbers[2 * i]),
      Number(numbers[2 * i + 1]),
    ]);
    return validateValue(spec, points);
  }
  if (rest.length > 0) return { ok: false, why: 'one value at a time' };
  if (spec.kind === 'switch') return validateValue(spec, first.type === 's' ? first.value : first.value !== 0);
  if (isNumberSpec(spec)) return validateValue(spec, first.value);
  return validateValue(spec, first.value);
}
