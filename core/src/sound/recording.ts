/** Samples of one or more channels of the same length. */
export type Channels = readonly Float32Array[];

/** A recording that is read as it is needed. */
export interface Recording {
  /** 1 or 2. */
  readonly channels: number;
  /** Samples of each channel from one on: fewer than asked for at its end, none behind it. */
  readonly read: (from: number, frames: number) => Channels;
}

/** A recording that is all in memory; of more than two channels the first two. */
export const inMemory = (channels: Channels): Recording => ({
  channels: Math.min(2, channels.length),
  read: (from, frames) => channels.slice(0, 2).map((channel) => channel.subarray(from, from + frames)),
});
