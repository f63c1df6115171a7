import { createHash } from 'node:crypto';
import { closeSync, fstatSync, openSync, readSync } from 'node:fs';

import { clock } from '@old-echo/core/contracts/mix-note';
import { bytesPerSample, parseWavHeader, refuseWav, type WavInfo } from '@old-echo/core/signal/wav-header';
import { peakOf } from '@old-echo/core/signal/wav-samples';

import { HEAD_BYTES } from './wav-recording';

/** Bytes that are read at once: a whole number of samples of every depth. */
const PIECE = 3 * 262_144;

/** What is to be known of a recording before it is kept. */
export interface StemSurvey {
  /** SHA-256 of its file. */
  readonly hash: string;
  readonly info: WavInfo;
  /** The highest sample, as a part of full scale. */
  readonly peak: number;
}

/** Reads a WAV file once, from its beginning to its end. @throws Fault `refused-input` for what is none */
export function surveyStem(file: string): StemSurvey {
  const open = openSync(file, 'r');
  try {
    const { size } = fstatSync(open);
    const piece = new Uint8Array(PIECE);
    const read = (from: number, to: number) =>
      piece.subarray(0, readSync(open, piece, 0, Math.min(PIECE, to - from), from));
    const info = parseWavHeader(read(0, Math.min(size, HEAD_BYTES)), size);
    const hash = createHash('sha256');
    let peak = 0;
    for (let from = 0; from < size;) {
      const isSound = from >= info.at && from < info.end;
      const bytes = read(from, isSound ? info.end : from < info.at ? info.at : size);
      if (bytes.length === 0) throw refuseWav('The WAV file is shorter than it was.', 'Attach it again.');
      hash.update(bytes);
      if (isSound) {
        const level = peakOf(bytes, info.depth);
        if (level === Infinity) {
          const seconds = (from - info.at) / bytesPerSample(info.depth) / info.channels / info.rate;
          throw refuseWav(`The WAV file has samples that are not numbers, at about ${clock(seconds)}.`);
        }
        peak = Math.max(peak, level);
      }
      from += bytes.length;
    }
    return { hash: hash.digest('hex'), info, peak };
  } finally {
    closeSync(open);
  }
}
