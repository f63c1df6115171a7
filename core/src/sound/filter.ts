import type { Biquad } from './biquad';
import { inBlocks, type Step } from './blocks';
import { kernels } from './kernels';

/** Filters one or two channels through one filter after another, in place and in double precision, beginning at rest. */
export function filter(filters: readonly Biquad[], channels: readonly Float32Array[]): void {
  if (filters.length > 0) inBlocks(channels, filtering(filters));
}

/**
 * A step that filters, beginning at rest.
 * @param from the kernels' filter that is the first: those of another step can stand before it
 */
export function filtering(filters: readonly Biquad[], from = 0): Step {
  const { pair, runFilters, unpair } = setFilters(filters, from);
  return (frames) => {
    pair(frames);
    runFilters(frames, from, filters.length);
    unpair(frames);
  };
}

/** Changes nothing. */
const PASS: Biquad = { b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 };

/** Makes some of the kernels' filters these, at rest. @throws RangeError for more than they have room for */
export function setFilters(filters: readonly Biquad[], from = 0): ReturnType<typeof kernels> {
  const made = kernels();
  const { at } = made;
  // They run two by two.
  const even = filters.length % 2 === 0 ? filters : [...filters, PASS];
  if (from + even.length > at.MOST_FILTERS) throw new RangeError(`more than ${at.MOST_FILTERS} filters in a row`);
  made
    .doubles(at.COEFFICIENTS + 40 * from, 5 * even.length)
    .set(even.flatMap(({ b0, b1, b2, a1, a2 }) => [b0, b1, b2, a1, a2]));
  made.forgetFilters(from, even.length);
  return made;
}
