import type { Biquad } from '../signal/biquad';
import { type BlockProcessor, processInPlace } from './block-processor';
import { kernels } from './wasm-kernels';

/** Filters one or two channels through one filter after another, in place and in double precision, beginning at rest. */
export function filter(filters: readonly Biquad[], channels: readonly Float32Array[]): void {
  if (filters.length > 0) processInPlace(channels, createFilter(filters, channels.length === 1));
}

/**
 * A step that filters, beginning at rest.
 * @param alone whether there is only one channel: it is filtered twice as fast as two
 * @param row which of the kernels' rows of filters is used, so that those of another step can stand before it
 */
export function createFilter(filters: readonly Biquad[], alone: boolean, row = 0): BlockProcessor {
  const { pair, runFilters, runFiltersAlone, unpair } = kernels();
  const { from, memory } = setFilters(filters, row);
  const run = (frames: number) => {
    pair(frames);
    runFilters(frames, from, filters.length);
    unpair(frames);
  };
  return { run: alone ? (frames) => runFiltersAlone(frames, from, filters.length) : run, memory };
}

/** Changes nothing. */
const IDENTITY: Biquad = { b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 };

/**
 * Makes the kernels' filters from the beginning of a row on these, at rest; says which is the first, and where they lie.
 * @throws RangeError for more than they have room for
 */
export function setFilters(
  filters: readonly Biquad[],
  row = 0,
): { from: number; memory: NonNullable<BlockProcessor['memory']> } {
  const { at, doubles, forgetFilters } = kernels();
  const { COEFFICIENTS, MEMORIES, MOST_FILTERS, ROW } = at;
  const count = Math.ceil(filters.length / ROW) * ROW;
  const from = row * ROW;
  if (from + count > MOST_FILTERS) throw new RangeError(`more than ${MOST_FILTERS} filters in a row`);
  const full = Array.from({ length: count }, (_, i) => filters[i] ?? IDENTITY);
  doubles(COEFFICIENTS + 40 * from, 5 * count).set(
    full.flatMap(({ b0, b1, b2, a1, a2 }) => [b0, b1 - a1 * b0, b2 - a2 * b0, a1, a2]),
  );
  forgetFilters(from, count);
  const memory = [
    [COEFFICIENTS + 40 * from, 40 * count],
    [MEMORIES + 32 * from, 32 * count],
  ] as const;
  return { from, memory };
}
