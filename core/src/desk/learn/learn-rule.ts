import type { WireType } from '../link-map/link-map';
import { fillTemplate } from '../link-map/template';
import type { WireValue } from '../link-map/value-mapping';
import type { LoggedMessage } from '../logged-message';
import type { SettingSpec, Value } from '../setting';
import { type Candidate, learnMapping, type MappingSource } from './learn-mapping';
import type { LearnedAsk } from './learn-question';
import { learnTemplate } from './learn-template';
import type { Lesson, LessonSetting, Numbers } from './lessons';

/** A message as it was heard. */
export type HeardMessage = Pick<LoggedMessage, 'address' | 'types' | 'args'>;

/** Where the shown control stood, and what was last heard at each address until then. */
export interface Shown {
  readonly value: Value;
  readonly heard: readonly HeardMessage[];
}

/** Where a setting is on the wire, and how its values stand there. */
export interface LearnedPlace {
  readonly address: string;
  readonly argument: number;
  readonly type: WireType;
  readonly mapping: Candidate;
}

/** The type of an argument as a map has it; undefined for what no map speaks of. */
function wireType(types: string, argument: number): WireType | undefined {
  const tag = types[argument];
  if (tag === 'T' || tag === 'F') return 'T/F';
  return tag === 'i' || tag === 'f' || tag === 's' ? tag : undefined;
}

/**
 * Where a control is on the wire, from what was heard while it was shown at some values: the argument of which each value reads back as
 * what it was. What moves by itself meanwhile, a meter or a clock, does not follow the control.
 * @param known mappings that were learned of other strips, which are believed first
 */
export function learnPlace(
  spec: SettingSpec,
  shown: readonly Shown[],
  known: readonly Candidate[] = [],
): LearnedPlace | undefined {
  const places =
    shown[0]?.heard.flatMap(({ address, args }) => args.map((_, argument) => ({ address, argument }))) ?? [];
  return places
    .flatMap(({ address, argument }): LearnedPlace[] => {
      const pairs = shown.flatMap(({ value, heard }) => {
        const message = heard.find((one) => one.address === address);
        const [wire, type] = [message?.args[argument], wireType(message?.types ?? '', argument)];
        return wire === undefined || type === undefined ? [] : [{ value, wire, type }];
      });
      const [type] = new Set(pairs.map((pair) => pair.type));
      const isOne = type !== undefined && pairs.length === shown.length && pairs.every((pair) => pair.type === type);
      const mapping = isOne ? learnMapping(spec, type, pairs, known) : undefined;
      return mapping && type ? [{ address, argument, type, mapping }] : [];
    })
    .sort((a, b) => simplicity(a) - simplicity(b))[0];
}

/** Points fit anything that rises: what needs none is believed first. */
const simplicity = ({ mapping: [{ as }] }: LearnedPlace): number => (as === 'points' ? 1 : 0);

/** One neighbour that was moved by any amount, and what was heard meanwhile. */
export interface MovedNeighbour {
  readonly neighbour: LessonSetting;
  readonly heard: readonly HeardMessage[];
}

/** A rule of a link map, as its file has it. */
export interface LearnedRule {
  readonly setting: string;
  readonly address: string;
  readonly argument?: number | string;
  readonly type: WireType;
  readonly value?: MappingSource;
  /** Nothing where the same address without arguments asks, false where nothing does. */
  readonly ask?: LearnedAsk | false;
}

/**
 * The rule for all settings of a lesson: where numbers stand in the address, or which argument they are, as the moved neighbours say.
 * Without them it is a guess.
 * @returns undefined where what was heard follows no rule
 */
export function learnRule(
  lesson: Lesson,
  place: LearnedPlace,
  moved: readonly MovedNeighbour[],
): LearnedRule | undefined {
  const shown = { numbers: lesson.shown.numbers, address: place.address, argument: place.argument };
  const skeleton = withoutDigits(place.address);
  // Each neighbour is an argument of one of the messages that are spelt alike, the same one rather than another.
  let readings = [[shown]];
  for (const { neighbour, heard } of moved) {
    const places = heard
      .filter(({ address }) => withoutDigits(address) === skeleton)
      .flatMap(({ address, args }) => args.map((_, argument) => ({ numbers: neighbour.numbers, address, argument })))
      .sort((a, b) => Number(b.argument === place.argument) - Number(a.argument === place.argument));
    readings = readings.flatMap((reading) => places.map((one) => [...reading, one]));
  }
  for (const reading of readings) {
    const rule = ruleOf(lesson, place, reading);
    if (rule) return rule;
  }
  return undefined;
}

type Reading = readonly {
  readonly numbers: Lesson['shown']['numbers'];
  readonly address: string;
  readonly argument: number;
}[];

function ruleOf(lesson: Lesson, { type, mapping: [, value] }: LearnedPlace, reading: Reading): LearnedRule | undefined {
  // Numbers stand in both together: a page of one message for each mix has the strip as its argument.
  const joined = learnTemplate(
    reading.map(({ numbers, address, argument }) => ({ numbers, text: `${address} ${argument}` })),
  );
  if (joined === undefined) return undefined;
  const at = joined.lastIndexOf(' ');
  const [address, argument] = [joined.slice(0, at), joined.slice(at + 1)];
  return {
    setting: lesson.pattern,
    address,
    ...(argument === '0' ? {} : { argument: /^\d+$/.test(argument) ? Number(argument) : argument }),
    type,
    ...(value === undefined ? {} : { value }),
  };
}

const withoutDigits = (address: string): string => address.replaceAll(/\d+/g, '#');

/** What was last heard at each address. */
export function latestOf<M extends HeardMessage>(messages: readonly M[]): M[] {
  return [...new Map(messages.map((message) => [message.address, message])).values()];
}

/** How a setting stands on the wire by what was heard of it; undefined where nothing was. */
export function standsAt(
  { address, argument = 0 }: LearnedRule,
  numbers: Numbers,
  heard: readonly HeardMessage[],
): WireValue | undefined {
  const at = fillTemplate(address, numbers);
  return heard.find((one) => one.address === at)?.args[Number(fillTemplate(String(argument), numbers))];
}
