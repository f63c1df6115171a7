import { isList } from '../fault/is-record';
/** A list of `[seconds, value]` points, in order of time. */
export type Curve = readonly (readonly [seconds: number, value: number])[];

/** The value of one setting. Levels are dB; a level at its `min` is off (−∞). */
export type Value = number | boolean | string | Curve;

type NumberKind = 'level' | 'gain' | 'frequency' | 'time' | 'ratio' | 'percent';

export interface NumberSpec {
  readonly kind: NumberKind;
  /** As shown behind the number: `dB`, `Hz`, `ms`, `%`, `:1`. */
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  /** The finest move the desk can make, in `unit`. */
  readonly step: number;
  readonly default: number;
  /** A difference smaller than this, in `unit`, is not counted as audible. */
  readonly audible?: number;
}

interface SwitchSpec {
  readonly kind: 'switch';
  readonly default: boolean;
}

/** `reference` names something else on the desk (a socket, a device); `choice` is one of a few ways of working. */
export interface ChoiceSpec {
  readonly kind: 'choice' | 'reference';
  readonly options: readonly string[];
  readonly default: string;
}

interface TextSpec {
  readonly kind: 'text';
  /** The most characters the desk keeps. */
  readonly longest: number;
  readonly default: string;
}

interface CurveSpec {
  readonly kind: 'curve';
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  /** The most points the desk keeps. */
  readonly longest: number;
  readonly default: Curve;
}

export type SettingSpec = NumberSpec | SwitchSpec | ChoiceSpec | TextSpec | CurveSpec;

const NUMBER_KINDS: ReadonlySet<string> = new Set<NumberKind>([
  'level',
  'gain',
  'frequency',
  'time',
  'ratio',
  'percent',
]);

export const isNumberSpec = (spec: SettingSpec): spec is NumberSpec => NUMBER_KINDS.has(spec.kind);

/** Rounds `value` to the nearest step counted from `min`, inside the range, written with as many decimals as the step has. */
export function quantise(
  range: { readonly min: number; readonly max: number; readonly step: number },
  value: number,
): number {
  const steps = Math.round((value - range.min) / range.step);
  const decimals = Math.max(decimalsOf(range.step), decimalsOf(range.min));
  const rounded = Number((range.min + steps * range.step).toFixed(decimals));
  // The step need not divide the range: its last stop is the last whole step below `max`, or `max` itself.
  return Math.min(range.max, Math.max(range.min, rounded));
}

/** How many decimals a number is written with (0.05 → 2). */
export function decimalsOf(n: number): number {
  const text = String(n);
  const dot = text.indexOf('.');
  return dot < 0 ? 0 : text.length - dot - 1;
}

/** Four hours in milliseconds still fit the single-precision floats of the wire. */
const CURVE_TIME_RANGE = { min: 0, max: 14_400, step: 0.001 };

/** Control characters, and halves of characters: no wire and no label carries them unchanged. */
export const UNPRINTABLE = /[\p{Cc}\p{Cs}]/u;

export type Validated = { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly why: string };

/**
 * What a desk does with a value sent to a setting: takes it at its own resolution, or refuses it and says why.
 * Numbers outside the range are refused, never silently clamped: a wrong value must not turn into a loud one.
 */
export function validateValue(spec: SettingSpec, value: unknown): Validated {
  const refuse = (why: string): Validated => ({ ok: false, why });
  if (isNumberSpec(spec)) {
    if (typeof value !== 'number' || !Number.isFinite(value)) return refuse('a number is needed here');
    // Single-precision floats cross the wire: half a step of slack keeps 0.1 and 0.10000000149 alike.
    if (value < spec.min - spec.step / 2 || value > spec.max + spec.step / 2)
      return refuse(`must be between ${spec.min} and ${spec.max} ${spec.unit}`);
    return { ok: true, value: quantise(spec, value) };
  }
  switch (spec.kind) {
    case 'switch':
      return typeof value === 'boolean' ? { ok: true, value } : refuse('must be on or off');
    case 'choice':
    case 'reference':
      return typeof value === 'string' && spec.options.includes(value)
        ? { ok: true, value }
        : refuse(`must be one of ${shortList(spec.options)}`);
    case 'text':
      return typeof value === 'string' && value.length <= spec.longest && !UNPRINTABLE.test(value)
        ? { ok: true, value }
        : refuse(`must be printable text of at most ${spec.longest} characters`);
    case 'curve':
      return acceptCurve(spec, value);
  }
}

function acceptCurve(spec: CurveSpec, value: unknown): Validated {
  if (!isList(value)) return { ok: false, why: 'must be a list of points' };
  if (value.length > spec.longest) return { ok: false, why: `must have at most ${spec.longest} points` };
  const points: [number, number][] = [];
  for (const point of value) {
    if (!isList(point) || point.length !== 2) return { ok: false, why: 'each point is [seconds, value]' };
    const [seconds, level] = point;
    if (typeof seconds !== 'number' || typeof level !== 'number' || !Number.isFinite(seconds + level))
      return { ok: false, why: 'each point is two numbers' };
    if (level < spec.min - spec.step / 2 || level > spec.max + spec.step / 2 || seconds < 0)
      return { ok: false, why: `points must be between ${spec.min} and ${spec.max} ${spec.unit}` };
    const at = quantise(CURVE_TIME_RANGE, seconds);
    const last = points.at(-1);
    if (last && at < last[0]) return { ok: false, why: 'points must be in order of time' };
    points.push([at, quantise(spec, level)]);
  }
  return { ok: true, value: points };
}

/** A value as a lane of automation; anything else is a lane without points. */
export const asLane = (value: Value | undefined): Curve => (typeof value === 'object' ? value : []);

const shortList = (options: readonly string[]): string =>
  options.length <= 6 ? options.join(', ') : `${options.slice(0, 3).join(', ')} … ${options.at(-1)}`;

/** Whether two values of a setting are the same on the desk: numbers within half a step, everything else exactly. */
export function sameValue(spec: SettingSpec, a: Value | undefined, b: Value | undefined): boolean {
  if (a === b) return true;
  if (a === undefined || b === undefined) return false;
  if (isNumberSpec(spec)) return Math.abs(Number(a) - Number(b)) <= spec.step / 2 + 1e-9;
  if (spec.kind === 'curve') {
    const [left, right] = [asLane(a), asLane(b)];
    if (typeof a !== typeof b || left.length !== right.length) return false;
    return left.every(([seconds, value], i) => {
      const other = right[i];
      return (
        other !== undefined &&
        Math.abs(other[0] - seconds) <= CURVE_TIME_RANGE.step / 2 + 1e-9 &&
        Math.abs(other[1] - value) <= spec.step / 2 + 1e-9
      );
    });
  }
  return false;
}

/** Whether a level stands at or under its floor, where the desk passes nothing. */
export const isOff = (spec: SettingSpec, value: Value | undefined): boolean =>
  spec.kind === 'level' && typeof value === 'number' && value <= spec.min;
