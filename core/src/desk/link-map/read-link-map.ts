import { Fault } from '../../fault/fault';
import { parseShape } from '../../fault/parse-shape';
import { invalidProfile } from '../invalid-profile';
import type { SettingSpec } from '../setting';
import type { Hearing, LinkMap, MappedSetting, WirePlace, WireQuestion, WireType } from './link-map';
import { linkMapShape, questionShape, type RuleSource, valueShape, type ValueSource } from './link-map-shape';
import { type Captures, compileSettingPattern, fillArgument, fillTemplate, templateFault } from './template';
import { mappingFault, type ValueMapping, type WireValue } from './value-mapping';

/** Mappings may be named after one another so often. */
const MOST_NAMES_DEEP = 8;

/** How often rules may be held against settings, over all of a map: a hundred for each of a large desk. */
const MOST_LOOKS = 2_000_000;

/** `in.7/eq/2/gain` and `in.{n}/eq/{band}/gain` are alike: `in.#/eq/#/gain`. */
const withoutNumbers = (setting: string): string => setting.replace(/\{[a-z]+\}|\d+/g, '#');

/**
 * Reads how a desk with a language of its own is spoken to (see docs/link-map.md).
 * @param json the `link` of a profile
 * @param specs every setting of the profile by its address; each must have a rule
 * @throws Fault `refused-input` with the path of the first thing that is wrong
 */
export function readLinkMap(json: unknown, specs: ReadonlyMap<string, SettingSpec>): LinkMap {
  const source = within('link', () => parseShape(linkMapShape, json));
  const settings = new Map<string, MappedSetting>();
  const alike = new Map<string, [string, SettingSpec][]>();
  for (const one of specs) {
    const name = withoutNumbers(one[0]);
    const others = alike.get(name);
    if (others) others.push(one);
    else alike.set(name, [one]);
  }
  let looks = 0;
  const taken = new Map<string, string>();
  const take = ({ address, argument }: WirePlace, setting: string, where: string): void => {
    const place = `${address} ${argument}`;
    const other = taken.get(place) ?? setting;
    if (other !== setting)
      throw invalidProfile(where, `argument ${argument} of ${address} is both ${other} and ${setting}`);
    taken.set(place, setting);
  };
  source.settings.forEach((rule, i) => {
    const where = `link.settings[${i}]`;
    const read = within(where, () => readRule(rule, source.values ?? {}, where));
    let found = 0;
    for (const [setting, spec] of alike.get(withoutNumbers(rule.setting)) ?? []) {
      if (++looks > MOST_LOOKS) throw invalidProfile(where, 'too many rules are for settings like this one');
      const captures = read.matches(setting);
      if (!captures) continue;
      found++;
      if (settings.has(setting)) throw invalidProfile(where, `${setting} has a rule before`);
      const mapped = { setting, spec, ...read.at(captures, spec) };
      take(mapped.place, setting, where);
      if (mapped.question) take(mapped.question.answer, setting, where);
      settings.set(setting, mapped);
    }
    if (found === 0) throw invalidProfile(`${where}.setting`, `the desk has nothing called ${rule.setting}`);
  });
  const missing = [...specs.keys()].filter((setting) => !settings.has(setting));
  if (missing[0] !== undefined)
    throw invalidProfile(
      'link.settings',
      `there is no rule for ${missing[0]}${missing.length > 1 ? `, nor for ${missing.length - 1} more` : ''}`,
    );
  assertWhole(settings);
  const { transport, alive, pace, wait } = source;
  return {
    transport,
    alive: { address: alive.address, args: alive.arguments ?? [], answer: alive.answer ?? alive.address },
    pace,
    wait,
    hearing: within('link.changes', () => readHearing(source.changes)),
    settings,
  };
}

function readHearing({
  by,
  address,
  arguments: args = [],
  every = 0,
}: ReturnType<typeof linkMapShape.validateSync>['changes']): Hearing {
  if (by === 'itself') return { by };
  if (by === 'asking') return { by, every };
  if (address === undefined)
    throw invalidProfile('link.changes.address', 'a subscription needs the address it is sent to');
  return { by, address, args, every };
}

interface ReadRule {
  readonly matches: (setting: string) => Captures | undefined;
  readonly at: (captures: Captures, spec: SettingSpec) => Omit<MappedSetting, 'setting' | 'spec'>;
}

function readRule(rule: RuleSource, values: Readonly<Record<string, unknown>>, where: string): ReadRule {
  const matches = compileSettingPattern(rule.setting);
  if (!matches)
    throw invalidProfile(`${where}.setting`, 'each number is a name in braces, {n}, and each name stands there once');
  const names = [...rule.setting.matchAll(/\{([a-z]+)\}/g)].map(([, name = '']) => name);
  const mapping = mappingOf(rule.value, values, `${where}.value`);
  const question = questionOf(rule, where);
  const check = (template: number | string | undefined, at: string): void => {
    const why = typeof template === 'string' ? templateFault(template, names) : undefined;
    if (why) throw invalidProfile(`${where}.${at}`, why);
  };
  check(rule.address, 'address');
  check(rule.argument, 'argument');
  check(question?.address, 'ask.address');
  check(question?.answer, 'ask.answer');
  check(question?.argument, 'ask.argument');
  question?.args.forEach((arg, i) => check(typeof arg === 'string' ? arg : undefined, `ask.arguments[${i}]`));
  return {
    matches,
    at: (captures, spec) => {
      const why = mappingFault(mapping, spec) ?? typeFault(rule.type, mapping, spec);
      if (why) throw invalidProfile(`${where}.value`, why);
      const place = placeOf(rule.address, rule.argument, captures, `${where}.argument`);
      return { type: rule.type, mapping, place, question: question && fillQuestion(question, captures, where) };
    },
  };
}

interface QuestionSource {
  readonly address: string;
  readonly args: readonly WireValue[];
  readonly answer: string;
  readonly argument: number | string;
}

function questionOf({ ask, address, argument = 0 }: RuleSource, where: string): QuestionSource | undefined {
  if (ask === false) return undefined;
  if (ask === undefined) return { address, args: [], answer: address, argument };
  const source = within(`${where}.ask`, () => parseShape(questionShape, ask));
  return {
    address: source.address,
    args: source.arguments ?? [],
    answer: source.answer ?? address,
    argument: source.argument ?? argument,
  };
}

const fillQuestion = (
  { address, args, answer, argument }: QuestionSource,
  captures: Captures,
  where: string,
): WireQuestion => ({
  address: fillTemplate(address, captures),
  args: args.map((arg) => (typeof arg === 'string' ? fillArgument(arg, captures) : arg)),
  answer: placeOf(answer, argument, captures, `${where}.ask.argument`),
});

function placeOf(address: string, argument: number | string = 0, captures: Captures, where: string): WirePlace {
  const at = typeof argument === 'number' ? argument : Number(fillTemplate(argument, captures));
  if (!Number.isInteger(at) || at < 0 || at > 255)
    throw invalidProfile(where, `${argument} is no number of an argument, 0 to 255`);
  return { address: fillTemplate(address, captures), argument: at };
}

/** A message is set whole: each of its arguments must be a setting. */
function assertWhole(settings: ReadonlyMap<string, MappedSetting>): void {
  const places = new Map<string, Set<number>>();
  for (const { place } of settings.values())
    places.set(place.address, (places.get(place.address) ?? new Set()).add(place.argument));
  for (const [address, taken] of places)
    for (let at = 0; at < taken.size; at++)
      if (!taken.has(at)) throw invalidProfile('link.settings', `argument ${at} of ${address} is no setting`);
}

/** A mapping, or one that is named; a name may stand for another. */
function mappingOf(value: unknown, values: Readonly<Record<string, unknown>>, where: string): ValueMapping {
  let source = value;
  for (let deep = 0; typeof source === 'string'; deep++) {
    if (!Object.hasOwn(values, source)) throw invalidProfile(where, `there is no mapping called ${source}`);
    if (deep >= MOST_NAMES_DEEP)
      throw invalidProfile(where, `${source} is named after itself, or over too many others`);
    source = values[source];
  }
  return source === undefined
    ? { as: 'same' }
    : kindOfMapping(
        within(where, () => parseShape(valueShape, source)),
        where,
      );
}

function kindOfMapping(source: ValueSource, where: string): ValueMapping {
  const { linear, logarithmic, points, steps, switch: ends, numbered, named } = source;
  const given = Object.entries({ linear, logarithmic, points, switch: ends, numbered, named }).flatMap(([name, one]) =>
    one === undefined ? [] : [name],
  );
  if (given.length !== 1)
    throw invalidProfile(where, 'a mapping is one of linear, logarithmic, points, switch, numbered and named');
  const stepped = steps === undefined ? {} : { steps };
  if (linear ?? logarithmic) {
    const [from = 0, to = 0] = linear ?? logarithmic ?? [];
    return { as: linear ? 'linear' : 'logarithmic', from, to, ...stepped };
  }
  if (points) return { as: 'points', points: points.map(([at = 0, on = 0]) => [at, on] as const), ...stepped };
  if (steps !== undefined) throw invalidProfile(where, 'steps are for numbers');
  if (ends) return { as: 'switch', off: ends[0] ?? false, on: ends[1] ?? true };
  return numbered === undefined ? { as: 'named', names: named ?? {} } : { as: 'numbered', first: numbered };
}

/** Why values that are mapped like this cannot be sent as that type. */
function typeFault(type: WireType, mapping: ValueMapping, spec: SettingSpec): string | undefined {
  const sent = mapping.as === 'same' ? typeof spec.default : sentBy(mapping);
  const fits = { i: sent === 'number', f: sent === 'number', s: sent === 'string', 'T/F': sent === 'boolean' }[type];
  return fits || (mapping.as === 'same' && sent === 'boolean' && type === 'i')
    ? undefined
    : `${type} does not carry what this mapping gives`;
}

function sentBy(mapping: ValueMapping): string {
  if (mapping.as === 'switch') return typeof mapping.off === typeof mapping.on ? typeof mapping.on : 'both';
  if (mapping.as !== 'named') return 'number';
  const kinds = new Set(Object.values(mapping.names).map((name) => typeof name));
  return kinds.size === 1 ? ([...kinds][0] ?? '') : 'both';
}

/** Says of what is wrong within a part of the map where the part stands. */
function within<T>(where: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof Fault && !error.where?.startsWith('link'))
      throw invalidProfile([where, error.where].filter(Boolean).join('.'), error.message.replace(/\.$/, ''));
    throw error;
  }
}
