import fc from 'fast-check';
import { array, mixed, object, type Schema, type SchemaDescription, string } from 'yup';

import type { Route } from '../../src/contracts/route';
import { ROUTES } from '../../src/contracts/routes/all-routes';
import { parseProfile } from '../../src/desk/profile';
import { longest } from '../../src/fault/bounded-input';
import { assertBoundedJson } from '../../src/fault/bounded-json';
import { Fault } from '../../src/fault/fault';
import { parseShape } from '../../src/fault/parse-shape';
import { archiveShape } from '../../src/formats/file-shapes';

const shape = object({
  tags: array(object({ name: string().trim() }).noUnknown()).max(3),
  note: string(),
  words: array(string()),
  any: mixed(),
}).noUnknown();
const refusal = (value: unknown, of: Schema = shape): [string, string | undefined] | 'taken' => {
  try {
    parseShape(of, value);
    return 'taken';
  } catch (error) {
    if (!(error instanceof Fault)) throw error;
    return [error.message, error.where];
  }
};

test.each([
  ['a list as long as it may be', { tags: [{}, {}, {}] }, 'taken'],
  ['a longer one', { tags: [{}, {}, {}, {}] }, ['tags holds 4 entries; the limit is 3.', 'tags']],
  ['a name nobody knows', { note: 'a', colour: 1, size: 2 }, ['Unknown field: colour.', 'colour']],
  ['one within a list', { tags: [{}, { name: 'a', size: 2 }] }, ['Unknown field: tags[1].size.', 'tags[1].size']],
  [
    'forty thousand of them, and long ones',
    Object.fromEntries(Array.from({ length: 40_000 }, (_, i) => [`${'x'.repeat(100)}${i}`, i])),
    [`Unknown field: ${'x'.repeat(60)}.`, 'x'.repeat(60)],
  ],
  ['a name that every object has', JSON.parse('{"constructor":{}}'), ['Unknown field: constructor.', 'constructor']],
  [
    'one where anything may be',
    JSON.parse('{"any":{"constructor":{}}}'),
    ['Nothing can be called constructor.', 'constructor'],
  ],
  ['an object for a text', { note: {} }, ['note must be text.', 'note']],
  ['a list for an object', { tags: [[]] }, ['tags[0] must be an object.', 'tags[0]']],
  ['an object for a list', { tags: { a: 1 } }, ['tags must be a list.', 'tags']],
  ['a list for one of many texts', { words: ['a', ['b']] }, ['words[1] must be text.', 'words[1]']],
  ['a list for all', [], ['What was sent must be an object.', '']],
  ['one deep inside', { tags: [{ toString: 1 }] }, ['Unknown field: tags[0].toString.', 'tags[0].toString']],
])('%s', (_, value, expected) => {
  expect(refusal(value)).toEqual(expected);
});

test('nine million empty objects are refused before one of them is looked into', () => {
  expect(refusal({ any: Array.from({ length: 2000 }, () => Array.from({ length: 4500 }, () => ({}))) })).toEqual([
    'It holds more than 1000000 values.',
    '',
  ]);
});

test('what is of another kind is refused without a look at what it holds', () => {
  const kept = jest.fn(() => ['note']);
  expect(refusal({ note: new Proxy({}, { ownKeys: kept }) })).toEqual(['note must be text.', 'note']);
  expect(kept).not.toHaveBeenCalled();
});

test('what is nested without end is refused, and not followed', () => {
  const deep: unknown = JSON.parse('['.repeat(5000) + ']'.repeat(5000));
  expect(refusal({ any: deep })).toEqual(['It is nested more than 64 deep.', '']);
});

describe('a JSON text is measured before anything is made of it', () => {
  const isBounded = (text: string): boolean => {
    try {
      assertBoundedJson(Buffer.from(text));
      return true;
    } catch (error) {
      if (!(error instanceof Fault)) throw error;
      return false;
    }
  };

  test('whatever JSON may say within the limits is let through', () => {
    fc.assert(
      fc.property(fc.jsonValue(), fc.nat(2), (value, space) => {
        expect(isBounded(JSON.stringify(value, null, space))).toBe(true);
      }),
    );
  });

  test.each([
    ['a million values and one', `[${'0,'.repeat(1_000_000)}0]`, false],
    ['just under a million', `[${'0,'.repeat(999_000)}0]`, true],
    ['64 brackets in one another', '['.repeat(64) + ']'.repeat(64), true],
    ['65', '['.repeat(65) + ']'.repeat(65), false],
    ['one after the other', `[${Array.from({ length: 65 }, () => '[]').join(',')}]`, true],
    ['brackets and commas that are only text', JSON.stringify('[{,'.repeat(1_000_000)), true],
    ['quotes within a text', JSON.stringify(`"\\"${'['.repeat(65)}`), true],
    ['a text that never ends', `"${'['.repeat(65)}`, true],
    ['objects in objects', '{"a":'.repeat(65), false],
  ])('%s', (_, text, expected) => {
    expect(isBounded(text)).toBe(expected);
  });
});

test('whatever is sent, it is taken or refused with a sentence', () => {
  fc.assert(
    fc.property(fc.jsonValue(), (value) => {
      expect(['taken', 'object']).toContain(typeof refusal(value) === 'object' ? 'object' : 'taken');
    }),
  );
});

/** The paths of lists that may be as long as they like. */
function endless(told: SchemaDescription, path: string): string[] {
  const { fields, innerType } = told as { fields?: Record<string, SchemaDescription>; innerType?: SchemaDescription };
  return [
    ...(told.type === 'array' && longest(told) === undefined ? [path] : []),
    ...(innerType ? endless(innerType, `${path}[]`) : []),
    ...Object.entries(fields ?? {}).flatMap(([name, field]) => endless(field, `${path}.${name}`)),
  ];
}

test('every list that is read from outside has a longest', () => {
  const routes = Object.values(ROUTES).flatMap((wing) => Object.entries(wing) as [string, Route][]);
  const lists = routes.flatMap(([name, { shapes }]) =>
    [shapes.query, shapes.body].flatMap((of) => (of ? endless(of.describe(), name) : [])),
  );
  expect([...lists, ...endless(archiveShape.describe() as SchemaDescription, 'archive')]).toEqual([]);
});

describe('a small profile that would become large', () => {
  const profile = (count: number, keys: Record<string, object>, section = 'eq') => ({
    id: 'big',
    name: 'Big',
    use: 'live',
    families: [{ id: 'in', name: 'Inputs', one: 'Input', count, sections: { [section]: keys } }],
  });
  const on = { kind: 'switch', default: false };
  test.each<[string, object, RegExp]>([
    ['forty million of one', profile(1, { '{1-40000000}/gain': on }), /\{1-40000000\} must go up, over 512 at most/],
    ['backwards', profile(1, { '{9-1}/gain': on }), /must go up/],
    ['many of many', profile(512, { '{1-512}/gain': on }), /more than 100000 settings/],
    ['a script for a name', profile(1, { on }, '<script>alert(1)</script>'), /small letters, digits, dots and hyphens/],
    ['a name that every object has', JSON.parse('{"constructor":1}'), /Unknown field: constructor/],
    ['a text for a number', { ...profile(1, { on }), pace: '1'.repeat(1_000_000) }, /^.{1,500}$/],
  ])('%s', (_, json, why) => {
    expect(() => parseProfile(json)).toThrow(why);
  });
  test('as many as a desk has are taken', () => {
    expect(parseProfile(profile(100, { '{1-512}/on': on })).families[0]?.keys).toHaveLength(512);
  });
});
