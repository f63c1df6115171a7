import type { WireType } from '../link-map/link-map';
import { fromWire, sameOnWire, type ValueMapping, type WireValue } from '../link-map/value-mapping';
import { isNumberSpec, sameValue, type SettingSpec, validateValue, type Value } from '../setting';

/** Where a control stood, and what the wire said of it then. */
export interface ValuePair {
  readonly value: Value;
  readonly wire: WireValue;
}

/** How a mapping is written in a map; undefined where values are sent as they are. */
export type MappingSource = Readonly<Record<string, unknown>> | undefined;

/** A mapping, and how it is written. */
export type Candidate = readonly [mapping: ValueMapping, source: MappingSource];

/**
 * How values stand on the wire, from some that were shown: the simplest mapping under which each of them reads back as what it was,
 * within half a step.
 * @param known mappings that were learned of other strips, which are believed first
 * @returns undefined where none does
 */
export function learnMapping(
  spec: SettingSpec,
  type: WireType,
  pairs: readonly ValuePair[],
  known: readonly Candidate[] = [],
): Candidate | undefined {
  const fits = (mapping: ValueMapping): boolean =>
    pairs.every(({ value, wire }) => {
      const back = fromWire(mapping, spec, wire);
      const taken = back === undefined ? undefined : validateValue(spec, back);
      return taken?.ok === true && sameValue(spec, taken.value, value);
    });
  // The same value is always the same on the wire, and no other is.
  const isFaithful = pairs.every((one) =>
    pairs.every((other) => sameOnWire(one.wire, other.wire) === (one.value === other.value)),
  );
  if (pairs.length === 0 || !isFaithful) return undefined;
  if (canBeSame(spec, type, pairs) && fits({ as: 'same' })) return SAME;
  return [...known, ...candidates(spec, pairs)].find(([mapping]) => fits(mapping));
}

const SAME: Candidate = [{ as: 'same' }, undefined];

/** On and off are sent as true and false, or as 1 and 0 in whole numbers; any other way needs a mapping. */
const canBeSame = (spec: SettingSpec, type: WireType, pairs: readonly ValuePair[]): boolean =>
  spec.kind !== 'switch' ||
  type === 'T/F' ||
  (type === 'i' && pairs.every(({ value, wire }) => wire === (value === true ? 1 : 0)));

function candidates(spec: SettingSpec, pairs: readonly ValuePair[]): Candidate[] {
  if (isNumberSpec(spec)) return numberCandidates(spec, pairs);
  if (spec.kind === 'switch') {
    const [off, on] = [false, true].map((value) => pairs.find((pair) => pair.value === value)?.wire);
    return off === undefined || on === undefined ? [] : [[{ as: 'switch', off, on }, { switch: [off, on] }]];
  }
  if (spec.kind !== 'choice' && spec.kind !== 'reference') return [];
  const [one] = pairs;
  const first = one && typeof one.wire === 'number' ? one.wire - spec.options.indexOf(String(one.value)) : undefined;
  const numbered: Candidate[] = first === undefined ? [] : [[{ as: 'numbered', first }, { numbered: first }]];
  const names = Object.fromEntries(pairs.map(({ value, wire }) => [String(value), wire]));
  const isEach = spec.options.every((option) => Object.hasOwn(names, option));
  return [...numbered, ...(isEach ? ([[{ as: 'named', names }, { named: names }]] as const) : [])];
}

function numberCandidates({ min, max }: { min: number; max: number }, pairs: readonly ValuePair[]): Candidate[] {
  const points = pairs
    .flatMap(({ value, wire }) =>
      typeof value === 'number' && typeof wire === 'number' ? [[value, rounded(wire)] as const] : [],
    )
    .sort(([a], [b]) => a - b)
    .filter(([value], i, all) => value !== all[i - 1]?.[0]);
  const [low, high] = [points.find(([value]) => value === min), points.find(([value]) => value === max)];
  if (!low || !high) return [];
  const ends = { from: low[1], to: high[1] };
  return [
    [{ as: 'linear', ...ends }, { linear: [low[1], high[1]] }],
    ...(min > 0 ? ([[{ as: 'logarithmic', ...ends }, { logarithmic: [low[1], high[1]] }]] as const) : []),
    ...(points.length > 2 ? ([[{ as: 'points', points }, { points }]] as const) : []),
  ];
}

/** Single-precision floats, as people would write them. */
const rounded = (wire: number): number => Number(wire.toPrecision(6));
