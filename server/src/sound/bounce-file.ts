import { type BitDepth, bytesPerSample, wavHeader, type WavLoudness } from '@old-echo/core/signal/wav-header';
import { decodeSamples, sampleEncoder } from '@old-echo/core/signal/wav-samples';
import type { Loudness } from '@old-echo/core/sound/loudness';
import { LoudnessMeter } from '@old-echo/core/sound/loudness-meter';

import { WavRecording } from './wav-recording';

/** A mix as a file to take along. */
export interface Bounce {
  /** The mix. */
  readonly file: string;
  readonly depth: BitDepth;
  readonly dither: boolean;
  /** What the file says of its loudness. */
  readonly loudness?: WavLoudness | undefined;
}

/** Part of the bytes of a bounce. */
export interface BouncePiece {
  readonly bytes: Uint8Array;
  /** The bytes of all of it. */
  readonly size: number;
  /** The sample that the next piece begins with; undefined behind the last. */
  readonly next: number | undefined;
}

/** Samples of each channel that are worked on at once. */
const PIECE = 65_536;

/** The bytes of a bounce from a sample on. @throws Fault `refused-input` for a mix that cannot be read */
export function bouncePiece({ file, depth, dither, loudness }: Bounce, from: number): BouncePiece {
  return withMix(file, ({ info, channels, read }) => {
    const { rate, frames } = info;
    const head = wavHeader({ rate, channels, depth, frames }, { loudness });
    const length = frames * channels * bytesPerSample(depth);
    const samples = sampleEncoder(depth, dither, from * channels)(read(from, PIECE));
    const next = from + PIECE < frames ? from + PIECE : undefined;
    const parts = [...(from === 0 ? [head] : []), samples, ...(next === undefined ? [new Uint8Array(length % 2)] : [])];
    return { bytes: Buffer.concat(parts), size: head.length + length + (length % 2), next };
  });
}

/** How loud the file is that a bounce makes. */
export function measureBounce({ file, depth, dither }: Bounce): Loudness {
  return withMix(file, ({ info, channels, read }) => {
    const meter = new LoudnessMeter(channels, info.rate);
    const encode = sampleEncoder(depth, dither);
    for (let at = 0; at < info.frames; at += PIECE) meter.add(decodeSamples(encode(read(at, PIECE)), depth, channels));
    return meter.end();
  });
}

function withMix<Made>(file: string, work: (mix: Pick<WavRecording, 'info' | 'channels' | 'read'>) => Made): Made {
  const mix = new WavRecording(file);
  try {
    const { info, channels } = mix;
    return work({ info, channels, read: (from, frames) => mix.read(from, frames) });
  } finally {
    mix.close();
  }
}
