import fc from 'fast-check';

import { idsIn } from '../../src/people/may-ask';

const ID = '01ARZ3NDEKTSV4RRFFQ69G5FAV';
const OTHER = '01BX5ZZKBKACTAV9WEVGEMMVRZ';

test('an id is found wherever in a request it stands: as a value or a name, however deep', () => {
  fc.assert(
    fc.property(
      fc.jsonValue({ maxDepth: 4 }),
      fc.array(fc.constantFrom('list', 'value', 'name'), { maxLength: 6 }),
      (beside, way) => {
        const nested = way.reduce<unknown>(
          (inside, step) =>
            step === 'list' ? [beside, inside] : step === 'value' ? { beside, inside } : { [OTHER]: inside, beside },
          ID,
        );
        const found = idsIn([{}, nested]);
        expect(found).toContain(ID);
        expect(found.includes(OTHER)).toBe(way.includes('name'));
      },
    ),
  );
});

test.each([
  ['small letters', ID.toLowerCase()],
  ['a part of a text', `x${ID}`],
  ['a number', 7],
  ['nothing', null],
])('what is no id is none: %s', (_, value) => {
  expect(idsIn({ value })).toEqual([]);
});

test('each is told once', () => {
  expect(idsIn([ID, { a: ID }, [ID]])).toEqual([ID]);
});
