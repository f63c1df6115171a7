import { kernels } from './kernels';

/** Works on the block that lies in the kernels' `left` and `right`; is given how many samples it has. */
export type Step = (frames: number) => void;

/**
 * Runs a step over one or two channels, block by block and in place: each block lies in the kernels' `left` and `right`
 * meanwhile. A second channel that is missing is silence.
 */
export function inBlocks([left, right]: readonly Float32Array[], step: Step): void {
  if (!left) return;
  const { left: one, right: other } = kernels();
  other.fill(0);
  for (let from = 0; from < left.length; from += one.length) {
    const to = Math.min(left.length, from + one.length);
    one.set(left.subarray(from, to));
    if (right) other.set(right.subarray(from, to));
    step(to - from);
    left.set(one.subarray(0, to - from), from);
    if (right) right.set(other.subarray(0, to - from), from);
  }
}
