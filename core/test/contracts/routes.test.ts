import type { Schema, SchemaDescription, SchemaObjectDescription } from 'yup';

import type { Route } from '../../src/contracts/route';
import { ROUTES } from '../../src/contracts/routes/all-routes';
import type { Fault } from '../../src/fault/fault';
import { parseShape } from '../../src/fault/parse-shape';

const routes = Object.values(ROUTES).flatMap((wing) => Object.entries<Route>(wing));
const taking = routes.flatMap(([name, { shapes }]) =>
  Object.entries(shapes).flatMap(([part, shape]): (readonly [string, Schema])[] =>
    typeof shape === 'object' ? [[`${name} ${part}`, shape]] : [],
  ),
);

/** Parts of a shape that take whatever size is sent. */
function boundless(description: SchemaDescription, path: string): string[] {
  const has = (...names: string[]) => description.tests.some(({ name }) => names.includes(name ?? ''));
  const found: string[] = [];
  if (description.type === 'string' && description.oneOf.length === 0 && !has('max', 'matches', 'length'))
    found.push(`${path} is a string of any length`);
  if (description.type === 'array' && !has('max')) found.push(`${path} is a list of any length`);
  if ('innerType' in description && description.innerType && !Array.isArray(description.innerType))
    found.push(...boundless(description.innerType as SchemaDescription, `${path}[]`));
  if ('fields' in description) {
    if (!has('noUnknown')) found.push(`${path} takes fields that nobody knows`);
    const { fields } = description as SchemaObjectDescription;
    for (const [name, field] of Object.entries(fields))
      if ('tests' in field) found.push(...boundless(field, `${path}.${name}`));
  }
  return found;
}

test.each(taking)('%s takes nothing without bounds, and nothing that nobody knows', (name, shape) => {
  expect(boundless(shape.describe(), name)).toEqual([]);
});

test.each(taking)('%s names a field that nobody knows, and what to do', (_, shape) => {
  const refused = () => parseShape(shape, { nobodyKnows: 1 }) as unknown;
  expect(refused).toThrow(expect.objectContaining<Partial<Fault>>({ code: 'refused-input' }) as Error);
});

test.each(taking)('%s takes no list, number or text for what is an object', (_, shape) => {
  for (const wrong of [[], [1], 7, 'text', true])
    expect(() => parseShape(shape, wrong) as unknown).toThrow(
      expect.objectContaining<Partial<Fault>>({ code: 'refused-input' }) as Error,
    );
});

describe('addresses', () => {
  test('each is there once', () => {
    const all = routes.map(([, { method, path }]) => `${method} ${path.replaceAll(/:\w+/g, ':')}`);
    expect(all.filter((one, i) => all.indexOf(one) !== i)).toEqual([]);
  });

  test('each says in a sentence what it does', () => {
    for (const [, { does }] of routes) expect(does).toMatch(/^[A-Z].*[.]$/);
  });

  test('what only reads changes nothing: it takes no body', () => {
    for (const [name, { method, shapes }] of routes)
      if (method === 'get') expect([name, shapes.body]).toEqual([name, undefined]);
  });

  test('names in a path are words, and no name stands in it twice', () => {
    for (const [, { path }] of routes) {
      const names = [...path.matchAll(/:(\w+)/g)].map(([, name]) => name);
      expect(new Set(names).size).toBe(names.length);
      expect(path).toMatch(/^(\/[a-z-]+(\.[a-z]+)?|\/:[a-zA-Z]+)+$/);
    }
  });
});
