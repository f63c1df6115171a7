import { kernels } from './kernels';

/**
 * Runs `work` over one or two channels, block by block and in place: each block lies in the kernels' `left` and `right`
 * meanwhile. A second channel that is missing is silence.
 * @param work is given how many samples the block has
 */
export function inBlocks([left, right]: readonly Float32Array[], work: (frames: number) => void): void {
  if (!left) return;
  const { left: one, right: other } = kernels();
  other.fill(0);
  for (let from = 0; from < left.length; from += one.length) {
    const to = Math.min(left.length, from + one.length);
    one.set(left.subarray(from, to));
    if (right) other.set(right.subarray(from, to));
    work(to - from);
    left.set(one.subarray(0, to - from), from);
    if (right) right.set(other.subarray(0, to - from), from);
  }
}
