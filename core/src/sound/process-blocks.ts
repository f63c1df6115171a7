import { kernels } from './wasm-kernels';

/** Works on the block that lies in the kernels' `left` and `right`; is given how many samples it has. */
export type Step = (frames: number) => void;
/** Puts the samples from one on into the kernels' `left` and `right`; the second channel of what has only one is silence. */
export type Source = (from: number, frames: number) => void;

/**
 * Runs steps over what a source gives, block by block, and writes what comes of it into one or two channels.
 * @param made is told after each block how many samples are there
 */
export function makeBlocks(
  [left, right]: readonly Float32Array[],
  source: Source,
  steps: readonly Step[],
  made?: (upTo: number) => void,
): void {
  if (!left) return;
  const { left: one, right: other } = kernels();
  for (let from = 0; from < left.length; from += one.length) {
    const frames = Math.min(one.length, left.length - from);
    source(from, frames);
    for (const step of steps) step(frames);
    left.set(one.subarray(0, frames), from);
    if (right) right.set(other.subarray(0, frames), from);
    made?.(from + frames);
  }
}

/** Runs steps over one or two channels, block by block and in place. */
export function inBlocks(channels: readonly Float32Array[], ...steps: readonly Step[]): void {
  if (steps.length > 0) makeBlocks(channels, sourceOf(channels), steps);
}

/** One or two channels; silence behind their end. */
export function sourceOf(channels: readonly Float32Array[]): Source {
  const { left, right } = kernels();
  return (from, frames) => {
    [left, right].forEach((block, c) => {
      const samples = channels[c]?.subarray(from, from + frames);
      if (samples) block.set(samples);
      block.fill(0, samples?.length ?? 0, frames);
    });
  };
}
