import { type Profile, specOf } from '../profile';
import { isNumberSpec, quantise, type SettingSpec, type Value } from '../setting';
import { addressesOf } from '../state';

/** What the numbers in addresses are called in patterns, in their order. */
const NAMES = ['n', 'm', 'k'] as const;

/** The numbers of an address by their names in a pattern. */
export type Numbers = Readonly<Record<string, number>>;

/** One setting of a lesson, and which it is. */
export interface LessonSetting {
  readonly setting: string;
  readonly numbers: Numbers;
}

/** Settings of one kind that a desk speaks of alike: one is shown at some of its values, then one more for each number that tells them apart. */
export interface Lesson {
  /** `in.{n}/sends/mix.{m}/level` */
  readonly pattern: string;
  readonly spec: SettingSpec;
  /** The one that is shown. Its numbers differ from one another, so that one knows them again on the wire. */
  readonly shown: LessonSetting;
  /** Where it is to stand, one after the other. */
  readonly values: readonly Value[];
  /** One for each number, which differs from the shown one in that alone. */
  readonly neighbours: readonly LessonSetting[];
}

/** Where a level is shown between its ends, in dB: the marks that are printed beside most faders, where their scales bend. */
const SCALE_DB = [-60, -50, -40, -30, -20, -10, -5, 0, 5];

/** So many options are shown one by one; of more, the first, the second and the last, which tells whether they are numbered. */
const MOST_OPTIONS = 6;

/**
 * Values that tell how a setting's range stands on the wire: its ends and something between, or all that it can be; and the first once
 * more, which a meter that moves by itself does not come back to.
 */
export function shownValues(spec: SettingSpec): Value[] {
  const values = differentValues(spec);
  return [...values, ...values.slice(0, 1)];
}

/** Enough to know again what was learned of another strip: the ends of its range, or on and off. */
export function fewValues(spec: SettingSpec): Value[] {
  const [first, ...others] = differentValues(spec);
  return [first, others.at(-1), first].filter((value) => value !== undefined);
}

function differentValues(spec: SettingSpec): Value[] {
  if (isNumberSpec(spec)) {
    const { min, max } = spec;
    const inside = spec.kind === 'level' ? SCALE_DB.filter((db) => db > min && db < max) : [middle(spec)];
    return [min, ...inside.map((value) => quantise(spec, value)), max];
  }
  switch (spec.kind) {
    case 'switch':
      return [false, true];
    case 'choice':
    case 'reference': {
      const { options } = spec;
      const few = options.length <= MOST_OPTIONS;
      return few ? [...options] : [options[0], options[1], options.at(-1)].filter((one) => one !== undefined);
    }
    case 'text':
      return ['Wren', 'Tam'].map((name) => name.slice(0, spec.longest));
    case 'curve':
      return [];
  }
}

/** In the middle of a range as it is heard: that of a frequency is not the middle of its numbers. */
const middle = ({ kind, min, max }: { kind: string; min: number; max: number }): number =>
  (kind === 'frequency' || kind === 'time' || kind === 'ratio') && min > 0 ? Math.sqrt(min * max) : (min + max) / 2;

/** All that has to be shown of a desk, in its order. Lanes of automation are on no wire. */
export function lessonsOf(profile: Profile): Lesson[] {
  const groups = new Map<
    string,
    { parts: readonly string[]; settings: { setting: string; numbers: readonly number[] }[] }
  >();
  for (const setting of addressesOf(profile)) {
    const spec = specOf(profile, setting);
    if (!spec || spec.kind === 'curve') continue;
    const { parts, numbers } = takenApart(setting);
    // What else a name says is not the same kind of thing: a send to a mix is another than a send to an effect.
    const group = groups.get(`${parts.join('#')} ${spec.kind}`) ?? { parts, settings: [] };
    groups.set(`${parts.join('#')} ${spec.kind}`, group);
    group.settings.push({ setting, numbers });
  }
  return [...groups.values()].flatMap(({ parts, settings }) => lessonOf(profile, parts, settings) ?? []);
}

/** `in.7/eq/2/gain` without its numbers, and those. */
function takenApart(setting: string): { parts: string[]; numbers: number[] } {
  const all = setting.split(/(\d+)/);
  return { parts: all.filter((_, i) => i % 2 === 0), numbers: all.filter((_, i) => i % 2 === 1).map(Number) };
}

function lessonOf(
  profile: Profile,
  parts: readonly string[],
  settings: readonly { setting: string; numbers: readonly number[] }[],
): Lesson | undefined {
  const places = (settings[0]?.numbers ?? []).map((_, i) => [
    ...new Set(settings.map(({ numbers }) => numbers[i] ?? 0)),
  ]);
  const names = new Map(places.flatMap((found, i) => (found.length > 1 ? [i] : [])).map((i, at) => [i, NAMES[at]]));
  const pattern = parts
    .map((part, i) => {
      const name = names.get(i);
      if (i >= places.length) return part;
      return `${part}${name === undefined ? String(places[i]?.[0] ?? '') : `{${name}}`}`;
    })
    .join('');
  const numbersOf = (numbers: readonly number[]): Numbers =>
    Object.fromEntries([...names].flatMap(([i, name]) => (name ? [[name, numbers[i] ?? 0]] : [])));
  const withNumbers = ({ setting, numbers }: (typeof settings)[number]) => ({ setting, numbers: numbersOf(numbers) });
  // Numbers that are all different are known again, wherever they stand on the wire.
  const shown =
    settings.find(({ numbers }) => {
      const own = [...names.keys()].map((i) => numbers[i] ?? 0);
      return new Set(own).size === own.length && own.every((number, at) => number > (at === 0 ? 1 : 0));
    }) ?? settings[0];
  const spec = shown && specOf(profile, shown.setting);
  if (!shown || !spec) return undefined;
  const neighbours = [...names.keys()].flatMap((i) => {
    const differs = settings.filter(
      ({ numbers }) =>
        numbers[i] !== shown.numbers[i] && numbers.every((number, at) => at === i || number === shown.numbers[at]),
    );
    // The last: of two digits, where there are so many.
    const other = differs.at(-1);
    return other ? [withNumbers(other)] : [];
  });
  return { pattern, spec, shown: withNumbers(shown), values: shownValues(spec), neighbours };
}
