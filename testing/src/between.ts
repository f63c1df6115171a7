import fc from 'fast-check';

const PARTS = 1_000_000;

/** A number between two, each of its size as likely as any other; a double as fast-check makes it is nearly always next to nothing. */
export const between = (min: number, max: number): fc.Arbitrary<number> =>
  fc.integer({ min: 0, max: PARTS }).map((part) => min + ((max - min) * part) / PARTS);
