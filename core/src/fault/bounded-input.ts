import type { Schema, SchemaDescription } from 'yup';

import { Fault } from './fault';
import { isList, isRecord } from './is-record';
import { truncate } from './text-shapes';

/** The most values, and the deepest nesting, of what is read from outside: a file of 5,000 presets holds half as many. */
export const MAX_VALUES = 1_000_000;
export const MAX_DEPTH = 64;

export const tooMuch = (message: string, where: string): Fault =>
  new Fault('refused-input', message, 'Nothing was changed. Send less at a time.', where);

/**
 * Refuses what would keep a reader busy before it could say no: names that every object has by itself or that the shape does not know,
 * more values or deeper nesting than anything of ours has, lists longer than their shape allows, much of anything where one thing is
 * meant. Looks at each value at most twice, and expands nothing.
 * @throws Fault `refused-input` with the path of the first thing that is wrong
 */
export function assertBounded(shape: Schema, value: unknown): void {
  assertShort(descriptionOf(shape), value, '');
  assertPlain(value);
}

/** Names that every object has by itself. */
const OWN_TO_ALL: ReadonlySet<string> = new Set(Object.getOwnPropertyNames(Object.prototype));

function assertPlain(value: unknown): void {
  let level: unknown[] = [value];
  for (let [depth, count] = [0, 1]; level.length > 0; depth++) {
    if (depth > MAX_DEPTH) throw tooMuch(`It is nested more than ${MAX_DEPTH} deep.`, '');
    const next: unknown[] = [];
    const look = (inner: unknown): void => {
      count++;
      if (isList(inner) || isRecord(inner)) next.push(inner);
    };
    for (const one of level) {
      if (isList(one)) one.forEach(look);
      else if (isRecord(one))
        for (const name of Object.keys(one)) {
          if (OWN_TO_ALL.has(name)) throw tooMuch(`Nothing can be called ${name}.`, name);
          look(one[name]);
        }
      if (count > MAX_VALUES) throw tooMuch(`It holds more than ${MAX_VALUES} values.`, '');
    }
    level = next;
  }
}

const descriptions = new WeakMap<Schema, SchemaDescription>();

function descriptionOf(shape: Schema): SchemaDescription {
  const known = descriptions.get(shape) ?? shape.describe();
  descriptions.set(shape, known);
  return known;
}

/** A shape's own part of {@link SchemaDescription}: what it is told to hold, where it holds anything. */
interface Told extends SchemaDescription {
  readonly fields?: Readonly<Record<string, Told>>;
  readonly innerType?: Told | readonly Told[];
}

/** The most elements that a list of this shape may have; undefined where nothing is said. */
export const longest = ({ tests }: SchemaDescription): number | undefined => {
  const max = tests.find(({ name }) => name === 'max')?.params?.['max'];
  return typeof max === 'number' ? max : undefined;
};

/** What a shape's types are in a sentence. */
const KINDS: Readonly<Record<string, string>> = {
  array: 'a list',
  boolean: 'true or false',
  number: 'a number',
  object: 'an object',
  string: 'text',
};

/** Whether it is a list or an object where something else is meant, which a sentence about it would otherwise quote whole. */
const isOtherwise = (kind: string, value: unknown): boolean =>
  kind in KINDS && ((isList(value) && kind !== 'array') || (isRecord(value) && kind !== 'object'));

export const otherKind = (kind: string, path: string): Fault =>
  new Fault(
    'refused-input',
    `${path || 'What was sent'} must be ${KINDS[kind] ?? 'something else'}.`,
    'Nothing was changed. Correct it and try again.',
    path,
  );

/** Lists are measured before anything is made of what they hold. */
function assertShort(told: Told, value: unknown, path: string): void {
  if (isOtherwise(told.type, value)) throw otherKind(told.type, path);
  if (told.type === 'array' && isList(value)) {
    const most = longest(told);
    if (most !== undefined && value.length > most)
      throw tooMuch(`${path || 'The list'} holds ${value.length} entries; the limit is ${most}.`, path);
    const { innerType } = told;
    if (!innerType || isList(innerType)) return;
    if (innerType.fields ?? innerType.innerType)
      for (const [i, one] of value.entries()) assertShort(innerType, one, `${path}[${i}]`);
    // What holds nothing is counted with its list.
    const other = value.findIndex((one) => isOtherwise(innerType.type, one));
    if (other >= 0) throw otherKind(innerType.type, `${path}[${other}]`);
  }
  if (told.fields && isRecord(value))
    for (const [name, field] of Object.entries(told.fields))
      if (name in value) assertShort(field, value[name], within(path, name));
  if (told.fields && isRecord(value) && told.tests.some(({ name }) => name === 'noUnknown')) {
    const { fields } = told;
    const other = Object.keys(value).find((name) => !Object.hasOwn(fields, name));
    if (other !== undefined) throw unknownField(other, path);
  }
}

const within = (path: string, name: string): string => (path ? `${path}.${name}` : name);

/** What was sent may be quoted, but not all of a book, in characters. */
const LONGEST_NAME = 60;

const unknownField = (name: string, path: string): Fault => {
  const where = within(path, truncate(name, LONGEST_NAME));
  return new Fault(
    'refused-input',
    `Unknown field: ${where}.`,
    'Nothing was changed. Correct it and try again.',
    where,
  );
};
