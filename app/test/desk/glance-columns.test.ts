import fc from 'fast-check';

import { runs } from '@old-echo/testing/runs';

import { glanceColumns, type GlanceEntry } from '../../src/desk/glance-columns';

const LEAST = { width: 104, height: 32 };
/** A desk by the sizes of its families. */
const desk = (...sizes: number[]): GlanceEntry[] =>
  sizes.flatMap((size, f) => [
    { heading: `Family ${f}` },
    ...Array.from({ length: size }, (_, i) => ({ strip: `f${f}.${i + 1}` })),
  ]);
const QUAY = desk(48, 8, 16, 8, 8, 6, 8, 2);

test('all strips of a 48-input desk are on a screen of 1280 by 800 beside the list, and on a phone held sideways', () => {
  const wide = glanceColumns(QUAY, 672, 730, LEAST);
  expect([wide.columns.length, wide.height >= LEAST.height]).toEqual([6, true]);
  const phone = glanceColumns(QUAY, 776, 290, { width: 68, height: 26 });
  expect(Math.max(...phone.columns.map((column) => column.length)) * phone.height).toBeLessThanOrEqual(290);
});

test('where they cannot all fit the columns go on below the screen, none narrower than it can be read', () => {
  const { columns, height } = glanceColumns(QUAY, 390, 400, LEAST);
  expect([columns.length, height]).toEqual([3, 32]);
});

test('every strip is there once and in order, no heading stands alone at the foot of a column, and nothing is too small', () => {
  const sizes = fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 1, maxLength: 9 });
  fc.assert(
    fc.property(
      sizes,
      fc.integer({ min: 80, max: 1400 }),
      fc.integer({ min: 60, max: 900 }),
      (families, width, height) => {
        const entries = desk(...families);
        const found = glanceColumns(entries, width, height, LEAST);
        expect(found.columns.flat()).toEqual(entries);
        expect(found.height).toBeGreaterThanOrEqual(LEAST.height);
        expect(found.columns.length).toBeLessThanOrEqual(Math.max(1, Math.floor(width / LEAST.width)));
        for (const column of found.columns.slice(0, -1))
          if (column.length > 1) expect(column.at(-1)).not.toHaveProperty('heading');
      },
    ),
    { numRuns: runs(300) },
  );
});

test('a desk of which no strip is shown has no columns, and a room of no height one', () => {
  expect(glanceColumns([], 600, 600, LEAST).columns).toEqual([]);
  expect(glanceColumns(desk(3), 100, 0, LEAST).columns).toHaveLength(1);
});
