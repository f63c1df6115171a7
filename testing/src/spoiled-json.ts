import fc from 'fast-check';

type Json = unknown;

/** What stands in a place where something else is meant. */
const junk = fc.oneof(
  fc.constantFrom<Json>(
    null,
    true,
    '',
    'x',
    ' ',
    '\0',
    '../..',
    '{1-40000000}',
    '{in}/level',
    '__proto__',
    'é'.repeat(200),
  ),
  fc.constantFrom<Json>(0, -1, 0.5, 2 ** 31, 2 ** 53, 1e308, -1e308),
  fc.constantFrom<Json>([], {}, [[]], [null], { kind: 'number' }, { a: {} }),
  fc.constant(JSON.parse('{"constructor":{},"__proto__":1}') as Json),
);

interface Spoil {
  /** Which way it goes down, a number for each step, and how deep. */
  readonly steps: readonly number[];
  readonly how: 'replace' | 'remove' | 'repeat' | 'rename';
  readonly with: Json;
}

const spoil: fc.Arbitrary<Spoil> = fc.record({
  steps: fc.array(fc.nat(), { minLength: 1, maxLength: 9 }),
  how: fc.constantFrom('replace', 'remove', 'repeat', 'rename'),
  with: junk,
});

/** A copy of some JSON with one thing in it changed. */
function spoiledOnce(json: Json, { steps, how, with: other }: Spoil): Json {
  const [step = 0, ...rest] = steps;
  if (Array.isArray(json)) {
    if (json.length === 0) return other;
    const list = [...(json as Json[])];
    const at = step % list.length;
    if (rest.length > 0) list[at] = spoiledOnce(list[at], { steps: rest, how, with: other });
    else if (how === 'remove') list.splice(at, 1);
    else if (how === 'repeat') list.push(list[at]);
    else list[at] = other;
    return list;
  }
  if (typeof json !== 'object' || json === null) return other;
  const entries = Object.entries(json) as [string, Json][];
  const at = step % Math.max(1, entries.length);
  const [name, value] = entries[at] ?? ['x', null];
  if (rest.length > 0) entries[at] = [name, spoiledOnce(value, { steps: rest, how, with: other })];
  else if (how === 'remove') entries.splice(at, 1);
  else if (how === 'rename') entries[at] = [String(other), value];
  else if (how === 'repeat') entries.push([`${name}2`, value]);
  else entries[at] = [name, other];
  return Object.fromEntries(entries);
}

/** Some JSON in which a few things are not what they should be: other values, missing, once too often, under another name. */
export const spoiledJson = (json: Json): fc.Arbitrary<Json> =>
  fc.array(spoil, { minLength: 1, maxLength: 3 }).map((spoils) => spoils.reduce(spoiledOnce, json));
