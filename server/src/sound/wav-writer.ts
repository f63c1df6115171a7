import { closeSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';

import { type BitDepth, wavHeader } from '@old-echo/core/signal/wav-header';
import { sampleEncoder } from '@old-echo/core/signal/wav-samples';
import type { Channels } from '@old-echo/core/sound/recording';

interface WavTarget {
  /** What the file is called once it is whole, and until then. */
  readonly file: string;
  readonly part: string;
  readonly rate: number;
  readonly channels: number;
  /** Samples of each channel. */
  readonly frames: number;
  readonly depth: BitDepth;
  readonly dither: boolean;
  /** Samples from midnight to where it begins. */
  readonly timeReference?: number | null;
}

/** Writes a WAV file piece by piece: whole or not at all. */
export class WavWriter {
  private readonly open: number;
  private readonly encode: ReturnType<typeof sampleEncoder>;
  private written = 0;
  private isOpen = true;

  constructor(private readonly target: WavTarget) {
    this.encode = sampleEncoder(target.depth, target.dither);
    this.open = openSync(target.part, 'w');
    try {
      this.write(wavHeader(target, { timeReference: target.timeReference ?? null }));
    } catch (error) {
      this.discard();
      throw error;
    }
  }

  add(channels: Channels): void {
    this.write(this.encode(channels));
  }

  /** Gives it its name. */
  end(): void {
    if (this.written % 2 === 1) this.write(new Uint8Array(1));
    this.close();
    renameSync(this.target.part, this.target.file);
  }

  /** Leaves nothing of it, unless it has its name by now. */
  discard(): void {
    this.close();
    rmSync(this.target.part, { force: true });
  }

  /** Leaves what is there of it, under the name of a part. */
  close(): void {
    if (this.isOpen) closeSync(this.open);
    this.isOpen = false;
  }

  private write(bytes: Uint8Array): void {
    for (let from = 0; from < bytes.length;) from += writeSync(this.open, bytes, from);
    this.written += bytes.length;
  }
}
