import fc from 'fast-check';

import type { Fault } from '../../src/fault/fault';
import { parseShape } from '../../src/fault/parse-shape';
import { idShape, MAX_NAME_LENGTH, nameShape, truncate, uniqueName } from '../../src/fault/text-shapes';

/** A name as people give it, of any script, up to the longest. */
const name = fc
  .string({ unit: 'grapheme', minLength: 1, maxLength: MAX_NAME_LENGTH })
  .map((text) => truncate(text, 60));
/** Text that is half of a character: a surrogate without its other half (The Unicode Standard, 23.6). */
const hasHalf = (text: string) => /[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/.test(text);

describe('a name that is free', () => {
  test('is the one asked for where nobody has it', () => expect(uniqueName('Reel', ['Air', 'Reel 2'])).toBe('Reel'));

  test.each([
    ['the same', 'Reel', ['Reel'], 'Reel 2'],
    ['one in other letters', 'reel', ['REEL'], 'reel 2'],
    ['one with accents', 'Séan', ['Sean'], 'Séan 2'],
    ['one that has a number already', 'Reel', ['Reel', 'Reel 2', 'Reel 4'], 'Reel 3'],
    ['a name with a number', 'Reel 2', ['Reel 2'], 'Reel 2 2'],
  ])('where there is %s gets a number', (_, wanted, taken, free) => expect(uniqueName(wanted, taken)).toBe(free));

  test('is never taken, never too long, and never ends in half a character', () => {
    fc.assert(
      fc.property(name, fc.integer({ min: 1, max: 12 }), (wanted, times) => {
        const taken: string[] = [];
        for (let n = 0; n < times; n++) {
          const free = uniqueName(wanted, taken);
          expect(taken.map((one) => one.toLowerCase())).not.toContain(free.toLowerCase());
          expect(free.length).toBeLessThanOrEqual(MAX_NAME_LENGTH);
          expect(hasHalf(free)).toBe(hasHalf(wanted));
          taken.push(free);
        }
      }),
    );
  });

  test('of sixty characters of two halves each keeps whole ones', () => {
    const horns = '📯'.repeat(30);
    expect(horns).toHaveLength(60);
    expect(uniqueName(horns, [horns])).toBe(`${'📯'.repeat(29)} 2`);
  });
});

test.each([
  ['short enough it stays', 'Reel', 10, 'Reel'],
  ['too long it is cut', 'Static balance', 6, 'Static'],
  ['cut within a character it loses that', 'a📯b', 2, 'a'],
  ['to nothing', 'Reel', 0, ''],
])('%s', (_, text, longest, cut) => expect(truncate(text, longest)).toBe(cut));

describe('what is typed as a name', () => {
  const shape = nameShape('a scene').required();
  const refusal = (value: unknown): Fault => {
    try {
      parseShape(shape, value);
    } catch (error) {
      return error as Fault;
    }
    throw new Error('it was taken');
  };

  test('loses what stands around it', () => expect(parseShape(shape, '  Reel ')).toBe('Reel'));
  test('may be as long as the longest', () => expect(parseShape(shape, 'x'.repeat(60))).toHaveLength(60));

  test.each([
    ['one character more', 'x'.repeat(61), 'A name can have up to 60 characters.'],
    ['blanks', '   ', 'A scene needs a name.'],
  ])('%s is refused in a sentence', (_, value, said) => {
    expect(refusal(value)).toMatchObject({ code: 'refused-input', message: said });
  });
});

test.each([
  ['a ULID', '01ARZ3NDEKTSV4RRFFQ69G5FAV', true],
  ['in small letters', '01arz3ndektsv4rrffq69g5fav', false],
  ['with a letter that Crockford’s base 32 leaves out', '01ARZ3NDEKTSV4RRFFQ69G5FAU', false],
  ['too short', '01ARZ3NDEKTSV4RRFFQ69G5FA', false],
  ['with something behind it', '01ARZ3NDEKTSV4RRFFQ69G5FAV/..', false],
])('an id: %s', (_, id, fits) => expect(idShape.isValidSync(id)).toBe(fits));
