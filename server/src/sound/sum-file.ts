import type { Channels } from '@old-echo/core/sound/recording';

import { WavWriter } from './wav-writer';

/** A strip sum as it is written: whoever reads it meanwhile reads what is there. It is of use, but no mix waits or fails for it. */
export class SumFile {
  private writer: WavWriter | undefined;

  constructor(file: string, size: { readonly rate: number; readonly channels: number; readonly frames: number }) {
    this.attempt(() => {
      this.writer = new WavWriter({ file, part: file, ...size, depth: 'float', dither: false });
    });
  }

  add(channels: Channels): void {
    this.attempt(() => this.writer?.add(channels));
  }

  close(): void {
    this.writer?.close();
  }

  /** What could not be written is left: whoever looks for it finds that it is not there. */
  private attempt(write: () => void): void {
    try {
      write();
    } catch {
      this.writer?.discard();
      this.writer = undefined;
    }
  }
}
