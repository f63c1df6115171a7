import { isList } from '../fault/is-record';
import { truncate } from '../fault/text-shapes';
import { familyOf, readAddress, sectionOf } from './address';
import { invalidProfile } from './invalid-profile';
import type { LinkMap } from './link-map/link-map';
import { readLinkMap } from './link-map/read-link-map';
import { CONTROL_FAMILIES, MAX_STRIPS, readProfileSource } from './profile-source';
import { isNumberSpec, type SettingSpec, validateValue, type Value } from './setting';

export interface Family {
  readonly id: string;
  /** Whether its controls are turned by hand: no wire leads there, and people say where they stand. */
  readonly manual: boolean;
  /** Plural, as a heading: "Inputs". */
  readonly name: string;
  readonly strips: readonly string[];
  /** Every setting of one strip of the family by its key (`eq/2/gain`), in the order of the profile. */
  readonly settings: Readonly<Record<string, SettingSpec>>;
  /** The keys of {@link settings}, in the same order. */
  readonly keys: readonly string[];
  /** In the order of the profile. */
  readonly sections: readonly string[];
}

/** The most settings of a whole desk: ten times those of the largest that is known. */
const MAX_SETTINGS = 100_000;

/** What sections and settings are called: they stand in addresses, and on paper. */
const NAME = /^[a-z0-9{}./-]{1,60}$/;

/** What a kind of desk has. Made from its JSON by {@link parseProfile}; never changed afterwards. */
export interface Profile {
  readonly id: string;
  readonly name: string;
  /** What the desk is made for; a production on it starts in this mode. */
  readonly use: 'studio' | 'live';
  /** How many bytes a second it takes from the network; undefined where that makes no difference. */
  readonly pace: number | undefined;
  /** How it is spoken to where it has a language of its own; undefined where it speaks ours. */
  readonly link: LinkMap | undefined;
  readonly families: readonly Family[];
  /** All strips in desk order. */
  readonly strips: readonly string[];
  /** The name a strip has before anyone labels it: "Input 7". */
  readonly plainNames: Readonly<Record<string, string>>;
}

/**
 * Reads a profile from its JSON (see docs/profiles.md), expanding `{mix}` and `{1-4}` in keys and options.
 * @throws Fault `refused-input` with the path of the first thing that is wrong
 */
export function parseProfile(json: unknown): Profile {
  const source = readProfileSource(json);
  const stripsOf = new Map(
    source.families.map((f) => [f.id, Array.from({ length: f.count }, (_, i) => `${f.id}.${i + 1}`)]),
  );
  const plainNames: Record<string, string> = {};
  let total = 0;
  const families = source.families.map((f): Family => {
    const strips = stripsOf.get(f.id) ?? [];
    strips.forEach((strip, i) => {
      plainNames[strip] = f.names?.[i] ?? (f.count === 1 ? f.one : `${f.one} ${i + 1}`);
    });
    const settings: Record<string, SettingSpec> = {};
    for (const [section, keys] of Object.entries(f.sections)) {
      for (const [pattern, spec] of Object.entries(keys)) {
        if (!NAME.test(section) || !NAME.test(pattern))
          throw invalidProfile(`families.${f.id}.sections`, 'names are of small letters, digits, dots and hyphens');
        for (const rest of expand(pattern, stripsOf)) {
          const key = `${section}/${rest}`;
          const whole = { ...settings[key], ...(spec as object) } as Record<string, unknown>;
          if (Array.isArray(whole['options']))
            whole['options'] = whole['options'].flatMap((o) => expand(String(o), stripsOf));
          total += f.count;
          if (total > MAX_SETTINGS)
            throw invalidProfile(`families.${f.id}`, `it has more than ${MAX_SETTINGS} settings`);
          settings[key] = readSpec(whole, f.count, `families.${f.id}.sections.${section}.${pattern}`);
        }
      }
    }
    const keys = Object.keys(settings);
    return {
      id: f.id,
      manual: f.manual === true,
      name: f.name,
      strips,
      settings,
      keys,
      sections: [...new Set(keys.map(sectionOf))],
    };
  });
  const wired = families.filter(({ manual }) => !manual);
  if (source.link !== undefined && wired.length === 0)
    throw invalidProfile('link', 'all of its families are manual, so there is nothing to speak to');
  return {
    id: source.id,
    name: source.name,
    use: source.use,
    pace: source.pace,
    link: source.link === undefined ? undefined : readLinkMap(source.link, specsOf(wired)),
    families,
    strips: families.flatMap((f) => f.strips),
    plainNames,
  };
}

const specsOf = (families: readonly Family[]): ReadonlyMap<string, SettingSpec> =>
  new Map(
    families.flatMap(({ strips, settings }) =>
      strips.flatMap((strip) => Object.entries(settings).map(([key, spec]) => [`${strip}/${key}`, spec] as const)),
    ),
  );

/** `{mix}/level` → one per mix; `{1-4}/gain` → four; anything else as it is. */
function expand(pattern: string, stripsOf: ReadonlyMap<string, readonly string[]>): string[] {
  const found = /\{([a-z]+|\d+-\d+)\}/.exec(pattern);
  if (!found?.[1]) return [pattern];
  const [whole, inner] = [found[0], found[1]];
  const [from = 0, to] = inner.split('-').map(Number);
  if (to !== undefined && !(from <= to && to - from < MAX_STRIPS))
    throw invalidProfile(pattern, `${whole} must go up, over ${MAX_STRIPS} at most`);
  const names =
    to === undefined ? (stripsOf.get(inner) ?? []) : Array.from({ length: to - from + 1 }, (_, i) => String(from + i));
  return names.map((name) => pattern.replace(whole, name));
}

const SPEC_KINDS = [
  'level',
  'gain',
  'frequency',
  'time',
  'ratio',
  'percent',
  'switch',
  'choice',
  'reference',
  'text',
  'curve',
];

/** The most characters of a text, and points of a curve. */
const MAX_LENGTH = 1000;

const isNumber = (value: unknown): boolean => typeof value === 'number' && Number.isFinite(value);
const isText = (value: unknown): boolean => typeof value === 'string' && value.length <= 60;

/** What must hold of the fields of a setting, by their names. */
const FIELDS: Readonly<Record<string, readonly [holds: (value: unknown) => boolean, why: string]>> = {
  unit: [isText, 'must be text'],
  min: [isNumber, 'must be a number'],
  max: [isNumber, 'must be a number'],
  step: [isNumber, 'must be a number'],
  audible: [(value) => value === undefined || isNumber(value), 'must be a number'],
  longest: [
    (value) => Number.isInteger(value) && Number(value) >= 0 && Number(value) <= MAX_LENGTH,
    `must be a whole number of at most ${MAX_LENGTH}`,
  ],
  options: [(value) => isList(value) && value.every(isText), 'must be a list of texts'],
};

const fieldsOf = (kind: string): readonly string[] => {
  if (kind === 'switch') return [];
  if (kind === 'text') return ['longest'];
  if (kind === 'choice' || kind === 'reference') return ['options'];
  return ['unit', 'min', 'max', 'step', ...(kind === 'curve' ? ['longest'] : ['audible'])];
};

/** @param count strips of its family, each of which has its own number in a default with `{n}` */
function readSpec(source: Record<string, unknown>, count: number, path: string): SettingSpec {
  const kind = String(source['kind']);
  if (!SPEC_KINDS.includes(kind)) throw invalidProfile(path, 'kind is not one that profiles have');
  for (const name of fieldsOf(kind)) {
    const [holds, why] = FIELDS[name] ?? [isText, ''];
    if (!holds(source[name])) throw invalidProfile(path, `${name} ${why}`);
  }
  // Its own fields are looked at above, and its default below must be a value that it accepts.
  const spec = source as unknown as SettingSpec;
  if (isNumberSpec(spec) || spec.kind === 'curve') {
    if (!(spec.min < spec.max && spec.step > 0)) throw invalidProfile(path, 'min must be under max, and step over 0');
  }
  const { default: template } = spec;
  const isNumbered = typeof template === 'string' && spec.kind !== 'text' && template.includes('{n}');
  for (let n = 1; n <= (isNumbered ? count : 1); n++) {
    const first = validateValue(spec, typeof template === 'string' ? template.replace('{n}', String(n)) : template);
    if (!first.ok) throw invalidProfile(path, `default ${first.why}`);
  }
  return spec;
}

const familyIndex = new WeakMap<Profile, Map<string, Family>>();

/** The strips of a desk that control others: its DCAs and mute groups. */
export const controlStrips = (profile: Profile): string[] =>
  profile.families.filter(({ id }) => isControlFamily(id)).flatMap(({ strips }) => strips);

/** Whether a strip is a DCA or a mute group. */
export const isControl = (strip: string): boolean => isControlFamily(familyOf(strip));

const isControlFamily = (family: string): boolean => CONTROL_FAMILIES.some((id) => id === family);

/** The family of a strip, or undefined where the desk has no such strip. */
export function stripFamily(profile: Profile, strip: string): Family | undefined {
  let index = familyIndex.get(profile);
  if (!index) {
    index = new Map(profile.families.flatMap((f) => f.strips.map((s) => [s, f] as const)));
    familyIndex.set(profile, index);
  }
  return index.get(strip);
}

/** What the setting at an address is, or undefined where the desk does not have it. */
export function specOf(profile: Profile, address: string): SettingSpec | undefined {
  const parts = readAddress(address);
  return parts && stripFamily(profile, parts.strip)?.settings[parts.key];
}

/** Whether a kind of desk has all that another of its name has, each setting of the same kind and range. */
export const hasAllOf = (whole: Profile, other: Profile): boolean =>
  other.id === whole.id &&
  other.families.every((family) => {
    const own = whole.families.find(({ id }) => id === family.id);
    const sameSettings = Object.entries(family.settings).every(
      ([key, spec]) => JSON.stringify(own?.settings[key]) === JSON.stringify(spec),
    );
    const hasStrips = family.strips.every((strip) => own?.strips.includes(strip));
    return own?.manual === family.manual && sameSettings && hasStrips;
  });

/** A strip's number inside its family: `in.7` → 7. */
export const stripNumber = (strip: string): number => Number(strip.slice(familyOf(strip).length + 1));

/** The value a setting has on a desk that nobody has touched. */
export function defaultValue(profile: Profile, strip: string, spec: SettingSpec): Value {
  if (typeof spec.default !== 'string') return spec.default;
  const filled = spec.default
    .replace('{n}', String(stripNumber(strip)))
    .replace('{name}', profile.plainNames[strip] ?? strip);
  return spec.kind === 'text' ? truncate(filled, spec.longest) : filled;
}
