import type { Biquad } from './biquad';
import { inBlocks } from './blocks';
import { kernels } from './kernels';

/** Filters one or two channels through one filter after another, in place and in double precision, beginning at rest. */
export function filter(filters: readonly Biquad[], channels: readonly Float32Array[]): void {
  if (filters.length === 0) return;
  const { pair, runFilters, unpair } = setFilters(filters);
  inBlocks(channels, (frames) => {
    pair(frames);
    runFilters(frames, filters.length);
    unpair(frames);
  });
}

/** Makes the kernels' filters these, at rest. @throws RangeError for more than they have room for */
export function setFilters(filters: readonly Biquad[]): ReturnType<typeof kernels> {
  const made = kernels();
  const { at } = made;
  if (filters.length > at.MOST_FILTERS) throw new RangeError(`more than ${at.MOST_FILTERS} filters in a row`);
  made
    .doubles(at.COEFFICIENTS, 5 * filters.length)
    .set(filters.flatMap(({ b0, b1, b2, a1, a2 }) => [b0, b1, b2, a1, a2]));
  made.forgetFilters();
  return made;
}
