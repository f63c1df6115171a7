import { kernels } from './wasm-kernels';

/** A part of the kernels' memory, in bytes. */
type MemoryRange = readonly [address: number, length: number];

/** Works on the block that lies in the kernels' `left` and `right`. */
export interface BlockProcessor {
  /**
   * @param frames how many samples the block has
   * @param from where in the sound it begins: from one call to the next without a gap
   */
  readonly run: (frames: number, from: number) => void;
  /** What it remembers in the kernels' memory, from its making on. */
  readonly memory?: readonly MemoryRange[];
  /** Brings what it remembers to where `memory` says. */
  readonly gather?: () => void;
}

/** Processors that follow one another in each block. What they remember lies in the kernels only while they are taken up. */
export class BlockChain {
  private readonly processors: readonly BlockProcessor[];
  private readonly ranges: readonly { readonly here: Uint8Array; readonly aside: Uint8Array }[];

  /** @param make makes the processors, which lie in the kernels together; it is called at once, and never while others run */
  constructor(make: () => readonly BlockProcessor[]) {
    this.processors = make();
    this.ranges = this.processors.flatMap(({ memory = [] }) =>
      memory.map(([address, length]) => ({
        here: kernels().bytes(address, length),
        aside: new Uint8Array(length),
      })),
    );
    this.putAside();
  }

  /** Works through part of a sound, the next after the one before. */
  runThrough(from: number, to: number): void {
    const { BLOCK } = kernels().at;
    for (const { here, aside } of this.ranges) here.set(aside);
    for (let at = from; at < to; at += BLOCK) for (const { run } of this.processors) run(Math.min(BLOCK, to - at), at);
    this.putAside();
  }

  private putAside(): void {
    for (const { gather } of this.processors) gather?.();
    for (const { here, aside } of this.ranges) aside.set(here);
  }
}

/** Runs processors over all of one or two channels, in place. */
export function processInPlace(channels: readonly Float32Array[], ...processors: readonly BlockProcessor[]): void {
  new BlockChain(() => [loadFrom(channels), ...processors, storeInto(channels)]).runThrough(
    0,
    channels[0]?.length ?? 0,
  );
}

/** The samples of a window that begin with one of the sound's; a window holds the last of them, each at its number modulo its length. */
export function samplesAt(window: Float32Array, from: number, frames: number): Float32Array {
  const at = from % window.length;
  return window.subarray(at, at + frames);
}

/** Loads the block from windows; the second channel of what has only one is silence. */
export function loadFrom(windows: readonly Float32Array[]): BlockProcessor {
  const { left, right } = kernels();
  const sides = [left, right].map((side, c) => [side, windows[c]] as const);
  return {
    run: (frames, from) => {
      for (const [side, window] of sides)
        if (window) side.set(samplesAt(window, from, frames));
        else side.fill(0, 0, frames);
    },
  };
}

/** Writes the block into windows. */
export function storeInto(windows: readonly Float32Array[]): BlockProcessor {
  const { left, right } = kernels();
  const sides = [left, right].flatMap((side, c) => {
    const window = windows[c];
    return window ? [[side, window] as const] : [];
  });
  return {
    run: (frames, from) => {
      for (const [side, window] of sides) window.set(side.subarray(0, frames), from % window.length);
    },
  };
}
