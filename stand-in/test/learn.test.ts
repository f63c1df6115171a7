import fc from 'fast-check';

import type { Candidate } from '@old-echo/core/desk/learn/learn-mapping';
import {
  type HeardMessage,
  latestOf,
  type LearnedRule,
  learnPlace,
  learnRule,
} from '@old-echo/core/desk/learn/learn-rule';
import { learnedProfile } from '@old-echo/core/desk/learn/learned-profile';
import { fewValues, type Lesson, lessonsOf } from '@old-echo/core/desk/learn/lessons';
import { parseProfile } from '@old-echo/core/desk/profile';
import type { Value } from '@old-echo/core/desk/setting';
import { addressesOf } from '@old-echo/core/desk/state';
import type { WireMessage } from '@old-echo/desk-link/codec';
import { MappedMessages } from '@old-echo/desk-link/mapped-messages';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { NO_QUIRKS, type Quirks, WeirScheme } from '@old-echo/stand-in/weir-scheme';
import { weirSource } from '@old-echo/testing/profiles';
import { anyValue } from '@old-echo/testing/random-state';

/** What it has, without how it is spoken to. */
const weir = parseProfile({ ...(weirSource as object), link: undefined });
const TALK = {
  transport: 'udp',
  alive: { address: '/there', arguments: [], answer: '/there/yes' },
  pace: 1000,
  changes: { by: 'itself' },
} as const;

const heardOf = ({ address, args }: WireMessage): HeardMessage => ({
  address,
  types: args.map(({ type }) => type).join(''),
  args: args.map(({ value }) => value),
});

/** A Weir under a hand, with a meter that moves all the time. */
class Hand {
  readonly desk = new SimulatedDesk(weir);
  private readonly scheme: WeirScheme;
  private meter = 0;

  constructor(quirks: Partial<Quirks>) {
    this.scheme = new WeirScheme(this.desk, { ...NO_QUIRKS, ...quirks });
  }

  /** Moves a control, and returns what is heard. */
  move(setting: string, value: Value): HeardMessage[] {
    this.desk.move(setting, value);
    const told = this.scheme.messageOf(setting);
    const meter = { address: '/row/02/meter', types: 'f', args: [(this.meter += 0.013)] };
    return told ? [meter, heardOf(told)] : [meter];
  }
}

/** Somewhere else than where it stands. */
const elsewhere = (desk: SimulatedDesk, setting: string, { values }: Lesson): Value =>
  values.find((value) => value !== desk.value(setting)) ?? values[0]!;

interface Taught {
  readonly lesson: Lesson;
  readonly rule: LearnedRule | undefined;
  /** What a person has to do. */
  readonly moves: number;
}

/** Which control it is, on whatever strip. */
const keyOf = ({ pattern }: Lesson): string => pattern.slice(pattern.indexOf('/'));

/** Goes through one lesson as a person would. */
function taught(hand: Hand, lesson: Lesson, known: Map<string, Candidate>): Taught {
  let heard: HeardMessage[] = [];
  const before = known.get(keyOf(lesson));
  const values = before ? fewValues(lesson.spec) : lesson.values;
  const shown = values.map((value) => {
    heard = latestOf([...heard, ...hand.move(lesson.shown.setting, value)]);
    return { value, heard };
  });
  const place = learnPlace(lesson.spec, shown, before ? [before] : []);
  if (place) known.set(keyOf(lesson), place.mapping);
  const moved = lesson.neighbours.map((neighbour) => ({
    neighbour,
    heard: hand.move(neighbour.setting, elsewhere(hand.desk, neighbour.setting, lesson)),
  }));
  return { lesson, rule: place && learnRule(lesson, place, moved), moves: values.length + moved.length };
}

describe.each<[string, Partial<Quirks>]>([
  ['as it is', {}],
  ['with rows counted from 0', { zeroBased: true }],
  ['with levels along a fader', { unitLevels: true }],
])('a desk with an OSC of its own, %s', (_, quirks) => {
  const hand = new Hand(quirks);
  const known = new Map<string, Candidate>();
  const lessons = lessonsOf(weir).map((lesson) => taught(hand, lesson, known));
  const learned = parseProfile(
    learnedProfile(
      weir,
      { id: 'learned', name: 'Learned' },
      TALK,
      lessons.flatMap(({ rule }) => rule ?? []),
    ),
  );

  test('is learned from a few controls, whole', () => {
    expect(lessons.filter(({ rule }) => !rule).map(({ lesson }) => lesson.pattern)).toEqual([]);
    expect(addressesOf(learned)).toEqual(addressesOf(weir));
    const moves = lessons.reduce((sum, lesson) => sum + lesson.moves, 0);
    expect(moves).toBeLessThan(addressesOf(weir).length / 3);
  });

  test('any setting is then sent as the desk itself tells of it', () => {
    const messages = new MappedMessages(learned.link!);
    fc.assert(
      fc.property(
        fc
          .constantFrom(...learned.link!.settings.values())
          .chain(({ setting, spec, place }) => anyValue(spec).map((value) => ({ setting, value, place }))),
        ({ setting, value, place }) => {
          const told = hand.move(setting, value).at(-1)!;
          const sent = heardOf(messages.write(place.address, (one) => hand.desk.value(one))!);
          expect([sent.address, sent.types]).toEqual([told.address, told.types]);
          for (const [i, arg] of sent.args.entries())
            if (typeof arg === 'number') expect(arg).toBeCloseTo(Number(told.args[i]), 3);
            else expect(arg).toBe(told.args[i]);
        },
      ),
      { numRuns: 500 },
    );
  });
});

test('a control of which nothing is heard, or that another moves along with, is not made up', () => {
  const hand = new Hand({});
  const lesson = lessonsOf(weir).find(({ pattern }) => pattern === 'in.{n}/fader/level')!;
  const silent = lesson.values.map((value) => ({
    value,
    heard: [{ address: '/row/02/meter', types: 'f', args: [Math.random()] }],
  }));
  expect(learnPlace(lesson.spec, silent)).toBeUndefined();
  const place = learnPlace(
    lesson.spec,
    lesson.values.map((value) => ({ value, heard: hand.move(lesson.shown.setting, value) })),
  );
  expect(place).toMatchObject({
    address: '/row/02/loud',
    argument: 0,
    type: 'f',
    mapping: [{ as: 'same' }, undefined],
  });
  // A neighbour that was another control than it was asked for.
  expect(
    learnRule(lesson, place!, [{ neighbour: lesson.neighbours[0]!, heard: hand.move('in.5/fader/level', -3) }]),
  ).toBeUndefined();
});
