import { cannotBeAsked } from '../../../src/desk/link-map/link-map';
import { parseProfile } from '../../../src/desk/profile';
import { Fault } from '../../../src/fault/fault';

const rules = () => [
  { setting: 'in.{n}/fader/level', address: '/row/{n:2}/loud', type: 'f', value: 'fader' as unknown },
  { setting: 'in.{n}/mute/on', address: '/row/{n:2}/shut', type: 'i' },
  {
    setting: 'in.{n}/pan/position',
    address: '/row/{n:2}/side',
    type: 'f',
    value: { linear: [-1, 1] } as unknown,
    ask: false as unknown,
  },
];

const link = () => ({
  alive: { address: '/there' },
  pace: 1000,
  changes: { by: 'itself' } as object,
  values: { fader: { linear: [0, 1], steps: 127 } } as Record<string, unknown>,
  settings: rules() as Record<string, unknown>[],
});

const profile = (map: unknown) => ({
  id: 'small',
  name: 'Small',
  use: 'live',
  families: [
    {
      id: 'in',
      name: 'Inputs',
      one: 'Input',
      count: 12,
      sections: {
        fader: { level: { kind: 'level', unit: 'dB', min: -90, max: 10, step: 0.1, default: -90 } },
        mute: { on: { kind: 'switch', default: false } },
        pan: { position: { kind: 'percent', unit: '%', min: -100, max: 100, step: 1, default: 0 } },
      },
    },
  ],
  link: map,
});

test('a map says for each setting where it is set, what it is there, and how it is asked', () => {
  const { link: map } = parseProfile(profile(link()));
  expect(map?.settings.size).toBe(36);
  expect(map?.settings.get('in.7/fader/level')).toMatchObject({
    place: { address: '/row/07/loud', argument: 0 },
    mapping: { as: 'linear', from: 0, to: 1, steps: 127 },
    question: { address: '/row/07/loud', args: [], answer: { address: '/row/07/loud', argument: 0 } },
  });
  expect(map).toMatchObject({ transport: 'udp', wait: 100, alive: { address: '/there', answer: '/there' } });
  expect(cannotBeAsked(map)).toHaveLength(12);
});

test('a profile without a map speaks our own language', () => {
  expect(parseProfile(profile(undefined)).link).toBeUndefined();
});

type Map = ReturnType<typeof link>;
const put = (map: Map, i: number, more: object): Map => {
  map.settings[i] = { ...map.settings[i], ...more };
  return map;
};

test.each<[string, (map: Map) => unknown, string, RegExp]>([
  ['no map at all', () => 7, 'link', /must be an object/],
  ['a field nobody knows', (map) => ({ ...map, speed: 1 }), 'link.speed', /Unknown field/],
  ['no pace', ({ pace: _, ...map }) => map, 'link.pace', /required/],
  ['a pace of nothing', (map) => ({ ...map, pace: 0 }), 'link.pace', /greater/],
  ['no sign of life', ({ alive: _, ...map }) => map, 'link.alive.address', /required/],
  [
    'a subscription to nowhere',
    (map) => ({ ...map, changes: { by: 'subscription', every: 500 } }),
    'link.changes.address',
    /needs the address/,
  ],
  ['asking all the time', (map) => ({ ...map, changes: { by: 'asking', every: 1 } }), 'link.changes.every', /greater/],
  ['no OSC address', (map) => put(map, 0, { address: 'row/{n}' }), 'link.settings[0].address', /OSC address/],
  [
    'a pattern for an address',
    (map) => put(map, 0, { address: '/row/*/loud' }),
    'link.settings[0].address',
    /OSC address/,
  ],
  [
    'a number from nowhere',
    (map) => put(map, 0, { address: '/row/{q}' }),
    'link.settings[0].address',
    /\{q\} is not in its setting/,
  ],
  [
    'two settings at one place',
    (map) => put(map, 1, { address: '/row/{n:2}/side' }),
    'link.settings[2]',
    /argument 0 of \/row\/01\/side is both in.1\/mute\/on and in.1\/pan\/position/,
  ],
  [
    'all rows at one place',
    (map) => put(map, 0, { address: '/row/loud' }),
    'link.settings[0]',
    /both in.1\/fader\/level and in.2\/fader\/level/,
  ],
  [
    'a gap in a message',
    (map) => put(map, 0, { argument: 1 }),
    'link.settings',
    /argument 0 of \/row\/01\/loud is no setting/,
  ],
  [
    'an argument below none',
    (map) => put(map, 0, { argument: '{n-3}' }),
    'link.settings[0].argument',
    /no number of an argument/,
  ],
  [
    'two rules for one',
    (map) => ({ ...map, settings: [...map.settings, map.settings[0]] }),
    'link.settings[3]',
    /has a rule before/,
  ],
  [
    'no rule for some',
    (map) => ({ ...map, settings: map.settings.slice(1) }),
    'link.settings',
    /no rule for in.1\/fader\/level, nor for 11 more/,
  ],
  [
    'a rule for nothing',
    (map) => put(map, 0, { setting: 'fx.{n}/fader/level' }),
    'link.settings[0].setting',
    /nothing called/,
  ],
  [
    'a mapping that is not there',
    (map) => ({ ...map, values: {} }),
    'link.settings[0].value',
    /no mapping called fader/,
  ],
  [
    'a mapping named after itself',
    (map) => ({ ...map, values: { fader: 'level', level: 'fader' } }),
    'link.settings[0].value',
    /named after itself/,
  ],
  [
    'two mappings in one',
    (map) => ({ ...map, values: { fader: { linear: [0, 1], numbered: 1 } } }),
    'link.settings[0].value',
    /one of/,
  ],
  [
    'half a line',
    (map) => ({ ...map, values: { fader: { linear: [0] } } }),
    'link.settings[0].value.linear',
    /2 items/,
  ],
  [
    'words for a float',
    (map) => put(map, 1, { value: { switch: ['OPEN', 'SHUT'] } }),
    'link.settings[1].value',
    /i does not carry/,
  ],
  ['a question that is none', (map) => put(map, 0, { ask: { at: 1 } }), 'link.settings[0].ask.at', /Unknown field/],
  [
    'a question of ten megabytes',
    (map) => put(map, 0, { ask: { address: `/${'a'.repeat(10_000_000)}` } }),
    'link.settings[0].ask.address',
    /OSC address/,
  ],
  [
    'two thousand rules',
    (map) => ({ ...map, settings: Array.from({ length: 2000 }, () => map.settings[0]) }),
    'link.settings',
    /limit is 1000/,
  ],
])('a map with %s is refused with where it is wrong, in a sentence', (_, change, where, why) => {
  let refusal: unknown;
  try {
    parseProfile(profile(change(link())));
  } catch (error) {
    refusal = error;
  }
  expect(refusal).toBeInstanceOf(Fault);
  const fault = refusal as Fault;
  expect(fault.where).toBe(where);
  expect(fault.message).toMatch(why);
  expect(fault.message.length).toBeLessThan(700);
});
