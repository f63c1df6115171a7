import FFT from 'fft.js';

import { frameCount, type PcmAudio } from '../signal/sound';
import { BAND_EDGE_RATIO, thirdOctaves } from '../signal/third-octaves';

/** Samples per transform: at 48 kHz its lines lie 1.5 Hz apart, three in the lowest third octave. */
const SIZE = 32_768;

/**
 * The mean level of a sound in each third octave from 20 Hz to 20 kHz, in dB of full scale; −Infinity for silence. A sine at
 * full scale in one channel gives −3.01. Averaged power spectra of half overlapping Hann windows; lines are shared between
 * bands in proportion.
 */
export function thirdOctaveLevels(sound: PcmAudio): number[] {
  const { channels, rate } = sound;
  const fft = new FFT(SIZE);
  const window = Float64Array.from({ length: SIZE }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / SIZE));
  const gain = window.reduce((sum, w) => sum + w * w, 0) * SIZE;
  const power = new Float64Array(SIZE / 2 + 1);
  const [input, output] = [new Array<number>(SIZE), fft.createComplexArray()];
  const frames = frameCount(sound);
  let windows = 0;
  for (let from = 0; from === 0 || from + SIZE <= frames; from += SIZE / 2) {
    windows++;
    for (const channel of channels) {
      // Silence behind what is too short. A copy of its own is read several times as fast as shared memory.
      const block = new Float64Array(SIZE);
      block.set(channel.subarray(from, from + SIZE));
      for (let i = 0; i < SIZE; i++) input[i] = block[i]! * window[i]!;
      fft.realTransform(output, input);
      for (let line = 0, at = 0; line <= SIZE / 2; line++, at += 2) {
        const re = Number(output[at]);
        const im = Number(output[at + 1]);
        power[line] = power[line]! + re * re + im * im;
      }
    }
  }
  // Every line but the first and the last stands for two.
  for (let line = 0; line <= SIZE / 2; line++) power[line] = (power[line]! * (line % (SIZE / 2) === 0 ? 1 : 2)) / gain;
  const width = rate / SIZE;
  return thirdOctaves().map((middle) => {
    const [low, high] = [middle / BAND_EDGE_RATIO, Math.min(rate / 2, middle * BAND_EDGE_RATIO)];
    let sum = 0;
    for (let line = Math.floor(low / width); line <= Math.ceil(high / width) && line < power.length; line++) {
      const inside = Math.min(high, (line + 0.5) * width) - Math.max(low, (line - 0.5) * width);
      if (inside > 0) sum += (power[line]! * inside) / width;
    }
    return 10 * Math.log10(sum / windows);
  });
}
