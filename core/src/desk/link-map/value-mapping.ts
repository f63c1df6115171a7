import { isNumberSpec, type NumberSpec, type SettingSpec, type Value } from '../setting';

/** What one argument of a message carries. */
export type WireValue = number | string | boolean;

/**
 * How a value stands on the wire: as it is; from one end of its range to the other in even steps, or in even steps of its logarithm;
 * between points `[value, wire]`; as one of two; as the number of its option; or as a word for each option.
 */
export type ValueMapping =
  | { readonly as: 'same' }
  | { readonly as: 'linear' | 'logarithmic'; readonly from: number; readonly to: number; readonly steps?: number }
  | {
      readonly as: 'points';
      readonly points: readonly (readonly [value: number, wire: number])[];
      readonly steps?: number;
    }
  | { readonly as: 'switch'; readonly off: WireValue; readonly on: WireValue }
  | { readonly as: 'numbered'; readonly first: number }
  | { readonly as: 'named'; readonly names: Readonly<Record<string, WireValue>> };

/** Numbers on the wire are single-precision floats: nearer than that they are the same. */
const WIRE_SLACK = 1e-6;

export const sameOnWire = (a: WireValue | undefined, b: WireValue | undefined): boolean =>
  a === b ||
  (typeof a === 'number' &&
    typeof b === 'number' &&
    Math.abs(a - b) <= WIRE_SLACK * Math.max(1, Math.abs(a), Math.abs(b)));

/**
 * Why values of a setting cannot be mapped like this; undefined where they can, each of them and each to another.
 * @param isWhole whether the wire carries whole numbers here
 */
export function mappingFault(mapping: ValueMapping, spec: SettingSpec): string | undefined {
  if (spec.kind === 'curve') return 'a lane of automation has no mapping';
  switch (mapping.as) {
    case 'same':
      return undefined;
    case 'linear':
    case 'logarithmic':
      if (!isNumberSpec(spec)) return `${mapping.as} is for numbers`;
      if (mapping.from === mapping.to) return 'both ends are the same';
      return mapping.as === 'logarithmic' && spec.min <= 0 ? 'a logarithm needs a range above 0' : undefined;
    case 'points':
      return isNumberSpec(spec) ? pointsFault(mapping.points, spec) : 'points are for numbers';
    case 'switch':
      if (spec.kind !== 'switch') return 'on and off are for switches';
      return sameOnWire(mapping.off, mapping.on) ? 'on and off are the same' : undefined;
    case 'numbered':
      return 'options' in spec ? undefined : 'numbered options are for choices';
    case 'named': {
      if (!('options' in spec)) return 'names are for choices';
      const missing = spec.options.find((option) => !Object.hasOwn(mapping.names, option));
      if (missing !== undefined) return `there is nothing for ${missing}`;
      const used = spec.options.map((option) => mapping.names[option]);
      return new Set(used).size < used.length ? 'two options are the same' : undefined;
    }
  }
}

function pointsFault(
  points: readonly (readonly [number, number])[],
  { min, max, unit }: NumberSpec,
): string | undefined {
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last || points.length < 2) return 'at least two points are needed';
  const rises = (of: 0 | 1, way: 1 | -1) =>
    points.every((point, i) => i === 0 || (point[of] - (points[i - 1]?.[of] ?? 0)) * way > 0);
  if (!rises(0, 1)) return 'the values of its points must rise';
  if (!rises(1, 1) && !rises(1, -1)) return 'what its points have on the wire must rise or fall all the way';
  return first[0] > min || last[0] < max ? `its points must reach from ${min} to ${max} ${unit}` : undefined;
}

/** The wire's own value for a setting's. A desk with fewer steps gets the nearest. */
export function toWire(mapping: ValueMapping, spec: SettingSpec, value: Value): WireValue | undefined {
  if (typeof value === 'object') return undefined;
  switch (mapping.as) {
    case 'same':
      return value;
    case 'switch':
      return value === true ? mapping.on : mapping.off;
    case 'numbered':
      return 'options' in spec ? spec.options.indexOf(String(value)) + mapping.first : undefined;
    case 'named':
      return mapping.names[String(value)];
    default: {
      if (!isNumberSpec(spec) || typeof value !== 'number') return undefined;
      const line = lineOf(mapping, spec);
      return onSteps(mapping.steps, line, along(line, scaled(mapping, value)));
    }
  }
}

/** The setting's value for one on the wire; undefined where it has none. Not yet rounded to the setting's own steps. */
export function fromWire(mapping: ValueMapping, spec: SettingSpec, wire: WireValue): Value | undefined {
  switch (mapping.as) {
    case 'same':
      return spec.kind === 'switch' && typeof wire === 'number' ? wire !== 0 : wire;
    case 'switch':
      if (sameOnWire(wire, mapping.on)) return true;
      return sameOnWire(wire, mapping.off) ? false : undefined;
    case 'numbered':
      return 'options' in spec ? spec.options[Number(wire) - mapping.first] : undefined;
    case 'named':
      return Object.keys(mapping.names).find((name) => sameOnWire(mapping.names[name], wire));
    default: {
      if (!isNumberSpec(spec) || typeof wire !== 'number') return undefined;
      const back = lineOf(mapping, spec).map(([value, at]) => [at, value] as const);
      return unscaled(mapping, along(back, wire));
    }
  }
}

type Line = readonly (readonly [number, number])[];
type NumberMapping = Extract<ValueMapping, { as: 'linear' | 'logarithmic' | 'points' }>;

const scaled = ({ as }: NumberMapping, value: number): number => (as === 'logarithmic' ? Math.log(value) : value);
const unscaled = ({ as }: NumberMapping, value: number): number => (as === 'logarithmic' ? Math.exp(value) : value);

const lineOf = (mapping: NumberMapping, { min, max }: NumberSpec): Line =>
  mapping.as === 'points'
    ? mapping.points
    : [
        [scaled(mapping, min), mapping.from],
        [scaled(mapping, max), mapping.to],
      ];

/** The second number that belongs to a first, on straight lines between points; what lies outside goes on as the nearest line does. */
function along(line: Line, x: number): number {
  const points = (line[0]?.[0] ?? 0) <= (line.at(-1)?.[0] ?? 0) ? line : line.toReversed();
  const next = points.findIndex(([at]) => at >= x);
  const i = next < 0 ? points.length - 1 : Math.max(1, next);
  const [a = [0, 0] as const, b = [0, 0] as const] = [points[i - 1], points[i]];
  return a[0] === b[0] ? b[1] : a[1] + ((x - a[0]) / (b[0] - a[0])) * (b[1] - a[1]);
}

function onSteps(steps: number | undefined, line: Line, wire: number): number {
  if (steps === undefined) return wire;
  const [from, to] = [line[0]?.[1] ?? 0, line.at(-1)?.[1] ?? 1];
  return from + (Math.round(((wire - from) / (to - from)) * steps) / steps) * (to - from);
}
