import { closeSync, fstatSync, openSync, readSync } from 'node:fs';

import { Fault } from '@old-echo/core/fault/fault';
import { bytesPerSample, parseWavHeader, refuseWav, type WavInfo } from '@old-echo/core/signal/wav-header';
import { areFinite, decodeSamples } from '@old-echo/core/signal/wav-samples';
import type { Channels, Recording } from '@old-echo/core/sound/recording';

/** As much of a file as a WAV's description ever takes, in bytes. */
export const HEAD_BYTES = 65_536;
/** Samples of each channel that are read at once. */
const PIECE = 16_384;

/** @throws Fault `not-found` for a file that is gone */
function opened(path: string): number {
  try {
    return openSync(path, 'r');
  } catch {
    throw new Fault('not-found', 'The file of a recording is missing on the disk.', 'Attach it again.');
  }
}

/** A WAV file that is read as it is needed, a piece at a time; of more than two channels the first two, unless more are asked for. */
export class WavRecording implements Recording {
  private readonly file: number;
  readonly info: WavInfo;
  readonly channels: number;
  private piece: { readonly from: number; readonly samples: Channels } = { from: 0, samples: [] };
  private bytes = new Uint8Array();

  /**
   * @param grows whether the file is still being written: it is as long as it says, though not all of it is there
   * @throws Fault `not-found`, or `refused-input` for what cannot be read
   */
  constructor(path: string, { most = 2, grows = false } = {}) {
    this.file = opened(path);
    try {
      const head = new Uint8Array(HEAD_BYTES);
      const { size } = fstatSync(this.file);
      this.info = parseWavHeader(
        head.subarray(0, readSync(this.file, head, 0, HEAD_BYTES, 0)),
        grows ? Infinity : size,
      );
    } catch (error) {
      this.close();
      throw error;
    }
    this.channels = Math.min(most, this.info.channels);
  }

  read(from: number, frames: number): Channels {
    const { piece } = this;
    const held = piece.samples[0]?.length ?? 0;
    const end = Math.min(this.info.frames, from + frames);
    if (from < piece.from || end > piece.from + held) this.load(from, Math.max(frames, PIECE));
    return this.piece.samples.map((channel) => channel.subarray(from - this.piece.from, end - this.piece.from));
  }

  close(): void {
    closeSync(this.file);
  }

  private load(from: number, frames: number): void {
    const { at, channels, depth, frames: all } = this.info;
    const width = bytesPerSample(depth) * channels;
    const count = Math.max(0, Math.min(frames, all - from));
    if (this.bytes.length < count * width) this.bytes = new Uint8Array(count * width);
    const stored = this.bytes.subarray(0, count * width);
    const read = count === 0 ? 0 : readSync(this.file, stored, 0, stored.length, at + from * width);
    if (read < stored.length) throw refuseWav('The WAV file is shorter than it was.', 'Attach it again.');
    const samples = decodeSamples(stored, depth, channels, this.channels);
    if (depth === 'float' && !samples.every(areFinite))
      throw refuseWav('The WAV file has samples that are not numbers.');
    this.piece = { from, samples };
  }
}
