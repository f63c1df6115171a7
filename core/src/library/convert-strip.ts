import { readAddress, sectionOf } from '../desk/address';
import { defaultValue, type Family, type Profile, stripFamily } from '../desk/profile';
import { asLane, isNumberSpec, isOff, quantise, sameValue, type SettingSpec, type Value } from '../desk/setting';
import type { StripState } from '../desk/state';
import { truncate } from '../fault/text-shapes';
import type { ConversionReason } from './conversion-reason';
import { convertBands, isBandKey } from './convert-eq-bands';
import { convertChain, isChainKey } from './convert-inserts';

/** Something that did not come along as it was. */
export interface ConversionNote {
  /** The strip it would have landed on. */
  readonly strip: string;
  /** The setting where it comes from. */
  readonly key: string;
  readonly from: Value;
  /** What it became, or undefined where it stayed behind. */
  readonly to: Value | undefined;
  readonly why: ConversionReason;
}

/** A strip of one desk, whole or in part, and the strip of the same or another desk that it lands on. */
export interface Carried {
  readonly from: Profile;
  readonly strip: string;
  readonly settings: StripState;
  readonly to: Profile;
  readonly onto: string;
  /** Where strips went, for settings that name a strip: `fx.1` → `fx.3`. */
  readonly others: ReadonlyMap<string, string>;
}

interface ConvertedStrip {
  /** Every value is one that the strip can hold. */
  readonly settings: StripState;
  readonly notes: readonly ConversionNote[];
}

/**
 * What a strip of one desk is on a strip of another: units and steps are converted, ranges clamped, EQ bands and inserts find
 * a place among those that are there. What stayed behind is told only where it did something: where it was not as on an
 * untouched desk.
 */
export function convertStrip(carried: Carried): ConvertedStrip {
  const { from, strip, settings, to, onto } = carried;
  const [source, target] = [stripFamily(from, strip), stripFamily(to, onto)];
  if (!source || !target) return { settings: {}, notes: [] };
  const made: Record<string, Value> = {};
  const notes: ConversionNote[] = [];
  const tell = (key: string, value: Value, why: ConversionReason, became?: Value) =>
    notes.push({ strip: onto, key, from: value, to: became, why });
  const take = (key: string, landed: string | undefined, value: Value, missing: ConversionReason): void => {
    const wanted = landed === undefined ? undefined : target.settings[landed];
    const spec = source.settings[key] ?? wanted;
    const idle = spec !== undefined && sameValue(spec, value, defaultValue(from, strip, spec));
    if (!spec || landed === undefined || !wanted) {
      if (!idle) tell(key, value, missing);
      return;
    }
    const found = convertValue(spec, wanted, value);
    if (found === undefined) {
      if (!idle) tell(key, value, 'no equivalent');
      return;
    }
    made[landed] = found.value;
    if (found.clamped) tell(key, value, 'range', found.value);
  };
  const same = source === target;
  const bands = !same && !sameKeys(source, target, 'eq');
  const chain = !same && !sameKeys(source, target, 'inserts');
  if (bands) convertBands(source, target, settings, take);
  if (chain) convertChain(target, settings, take);
  for (const [key, value] of Object.entries(settings)) {
    if ((bands && isBandKey(key)) || (chain && isChainKey(key))) continue;
    const landed = mapReference(carried, key);
    take(key, landed, value, landed === undefined ? 'destination left behind' : 'not on desk');
  }
  routeToMain(carried, made, notes);
  return { settings: made, notes };
}

/** A strip whose only group was not converted goes to main, else it would be silent; one that cannot choose goes there anyway. */
function routeToMain(
  { from, settings, to, onto, others }: Carried,
  made: Record<string, Value>,
  notes: ConversionNote[],
): void {
  const [main] = to.families.find(({ id }) => id === 'main')?.strips ?? [];
  const routes = (of: StripState, family: string) =>
    Object.keys(of).filter((key) => key.startsWith(`routing/${family}.`) && of[key] === true);
  const lost = routes(settings, 'group').find((key) => !others.has(referencedStrip(from, key) ?? ''));
  if (!main || lost === undefined || !stripFamily(to, onto)?.settings[`routing/${main}`]) return;
  if (routes(made, 'group').length > 0 || routes(made, 'main').length > 0) return;
  made[`routing/${main}`] = true;
  notes.push({ strip: onto, key: `routing/${main}`, from: false, to: true, why: 'group left behind' });
}

/** The key with the strip that it points at as that strip is called on the other desk; undefined where it is not there. */
function mapReference({ from, others }: Carried, key: string): string | undefined {
  const parts = key.split('/');
  const strip = parts.find((part) => stripFamily(from, part) !== undefined);
  if (strip === undefined) return key;
  const other = others.get(strip);
  return other === undefined ? undefined : parts.with(parts.indexOf(strip), other).join('/');
}

const sameKeys = (a: Family, b: Family, section: string): boolean =>
  [a, b]
    .map(({ keys }) => keys.filter((key) => sectionOf(key) === section).join())
    .every((keys, _, all) => keys === all[0]);

/** How many of the second unit are one of the first. */
const UNIT_FACTORS: Readonly<Record<string, number>> = { 's ms': 1000, 'ms s': 0.001, 'kHz Hz': 1000, 'Hz kHz': 0.001 };

/**
 * A value as another setting can hold it, at its own step and inside its range; a level that is off stays off. Undefined
 * where the two are not of a kind.
 */
function convertValue(
  from: SettingSpec,
  to: SettingSpec,
  value: Value,
): { readonly value: Value; readonly clamped: boolean } | undefined {
  if (isNumberSpec(from) && isNumberSpec(to)) {
    const factor = from.unit === to.unit ? 1 : UNIT_FACTORS[`${from.unit} ${to.unit}`];
    if (factor === undefined) return undefined;
    if (to.kind === 'level' && isOff(from, value)) return { value: to.min, clamped: false };
    return clamped(to, Number(value) * factor);
  }
  if (from.kind === 'curve' && to.kind === 'curve') {
    if (from.unit !== to.unit) return undefined;
    const lane = asLane(value);
    const points = lane.slice(0, to.longest).map(([at, y]) => ({ at, ...clamped(to, y) }));
    return {
      value: points.map(({ at, value: y }) => [at, y] as const),
      clamped: points.length < lane.length || points.some((point) => point.clamped),
    };
  }
  if (to.kind === 'text' && typeof value === 'string')
    return { value: shortenName(value, to.longest), clamped: value.length > to.longest };
  if (to.kind === 'switch') return typeof value === 'boolean' ? { value, clamped: false } : undefined;
  if (to.kind === 'choice' || to.kind === 'reference')
    return to.options.includes(String(value)) ? { value, clamped: false } : undefined;
  return undefined;
}

/** A name cut to what a label holds; its side or number stays: "Accordion L" → "Accord L". */
function shortenName(name: string, longest: number): string {
  if (name.length <= longest) return name;
  const end = / [\p{L}\p{N}]{1,2}$/u.exec(name)?.[0] ?? '';
  return `${truncate(name.slice(0, name.length - end.length), longest - end.length).trimEnd()}${end}`;
}

function clamped(to: { readonly min: number; readonly max: number; readonly step: number }, value: number) {
  const over = value > to.max + to.step / 2 || value < to.min - to.step / 2;
  return { value: quantise(to, value), clamped: over };
}

/** The strip that a key of a strip points at, or undefined: `sends/fx.1/level` → `fx.1`. */
export const referencedStrip = (profile: Profile, key: string): string | undefined =>
  key.split('/').find((part) => stripFamily(profile, part) !== undefined);

/** Settings by address, of one strip as they landed. */
export const toAddresses = (strip: string, settings: StripState): Record<string, Value> =>
  Object.fromEntries(Object.entries(settings).map(([key, value]) => [`${strip}/${key}`, value]));

/** The settings of a strip in some sections. */
export const filterSettings = (settings: StripState, takes: (section: string, key: string) => boolean): StripState =>
  Object.fromEntries(Object.entries(settings).filter(([key]) => takes(sectionOf(key), key)));

/** The settings among addresses that belong to a strip, by key. */
export const settingsOfStrip = (settings: Readonly<Record<string, Value>>, strip: string): StripState =>
  Object.fromEntries(
    Object.entries(settings).flatMap(([address, value]) => {
      const parts = readAddress(address);
      return parts?.strip === strip ? [[parts.key, value]] : [];
    }),
  );
