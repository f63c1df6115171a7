import { createHash } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

import { writeWav } from '@old-echo/core/signal/wav';

import { playAll, RATE } from './players';

interface MadeStem {
  readonly strip: string;
  readonly name: string;
  readonly hash: string;
  readonly frames: number;
  /** dB of full scale. */
  readonly peak: number;
}

/** Writes the song's stems into a folder, 24 bits, named by their content. */
export function makeStems(folder: string): MadeStem[] {
  mkdirSync(folder, { recursive: true });
  return Object.entries(playAll()).map(([strip, samples]) => {
    const bytes = writeWav({ rate: RATE, channels: [samples] }, '24', true);
    const hash = createHash('sha256').update(bytes).digest('hex');
    writeFileSync(join(folder, `${hash}.wav`), bytes);
    return {
      strip,
      name: `Lanterns on the Quay ${strip.slice(3)}.wav`,
      hash,
      frames: samples.length,
      peak: peakOf(samples),
    };
  });
}

const peakOf = (samples: Float32Array): number =>
  20 * Math.log10(samples.reduce((peak, sample) => Math.max(peak, Math.abs(sample)), 0));
