import { kernels } from './wasm-kernels';

/** Works on the block that lies in the kernels' `left` and `right`; is given how many samples it has. */
export type BlockProcessor = (frames: number) => void;
/** Puts the samples from one on into the kernels' `left` and `right`; the second channel of what has only one is silence. */
export type BlockSource = (from: number, frames: number) => void;

/**
 * Runs steps over what a source gives, block by block, and writes what comes of it into one or two channels.
 * @param made is told after each block how many samples are there
 */
export function renderBlocks(
  [left, right]: readonly Float32Array[],
  source: BlockSource,
  steps: readonly BlockProcessor[],
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
export function processInPlace(channels: readonly Float32Array[], ...steps: readonly BlockProcessor[]): void {
  if (steps.length > 0) renderBlocks(channels, sourceOf(channels), steps);
}

/** One or two channels; silence behind their end. */
export function sourceOf(channels: readonly Float32Array[]): BlockSource {
  const { left, right } = kernels();
  return (from, frames) => {
    [left, right].forEach((block, c) => {
      const samples = channels[c]?.subarray(from, from + frames);
      if (samples) block.set(samples);
      block.fill(0, samples?.length ?? 0, frames);
    });
  };
}
