import type { PcmAudio } from '../signal/sound';
import { kernels } from './wasm-kernels';

/** Samples that an interpolated one is made of. */
const TAPS = 32;
/** How steeply the window falls: about 90 dB of what would be mirrored is kept out. */
const BETA = 9;

/**
 * Filters for the three places between two samples, a quarter apart: a sinc under a Kaiser window. BS.1770-4, annex 2, asks
 * for four times the rate and gives a filter of 12 taps as one that will do; this one goes on nearer to half the rate.
 */
const PHASES = [0.25, 0.5, 0.75].map((place) => {
  const taps = Float64Array.from({ length: TAPS }, (_, k) => {
    const x = k - TAPS / 2 + 1 - place;
    return (Math.sin(Math.PI * x) / (Math.PI * x)) * bessel(BETA * Math.sqrt(1 - (x / (TAPS / 2)) ** 2));
  });
  const sum = taps.reduce((a, b) => a + b, 0);
  return taps.map((tap) => tap / sum).reverse();
});

/** The modified Bessel function of the first kind and order zero, by its series. */
function bessel(x: number): number {
  let [term, sum] = [1, 1];
  for (let n = 1; term > sum * 1e-12; n++) {
    term *= (x / (2 * n)) ** 2;
    sum += term;
  }
  return sum;
}

/** The most that any phase can make of samples up to 1. */
const MOST = Math.max(...PHASES.map((taps) => taps.reduce((sum, tap) => sum + Math.abs(tap), 0)));
/** Early-out: interpolation is skipped where no sample of such a run could reach the current peak. */
const RUN = 64;

/** The highest level between and at the samples, as a factor of full scale; four times oversampled. */
export function truePeak({ channels }: PcmAudio): number {
  const { at, left, singles, highest, highestBetween } = kernels();
  if (at.TAPS !== TAPS) throw new Error('the kernels count other taps');
  const taps = singles(at.PLACES, 3 * TAPS);
  PHASES.forEach((phase, place) => phase.forEach((tap, k) => (taps[3 * k + place] = tap)));
  let peak = 0;
  for (const samples of channels)
    for (let from = 0; from < samples.length; from += left.length) {
      left.fill(0).set(samples.subarray(from, from + left.length));
      peak = Math.max(peak, highest(left.length));
    }
  // What a block needs of the one before it, and of the silence before and behind the sound, lies in front of it.
  const past = left.length - TAPS;
  for (const samples of channels)
    for (let from = -TAPS; from < samples.length; from += past) {
      left.fill(0);
      const start = Math.max(0, from);
      left.set(samples.subarray(start, Math.max(start, from + left.length)), start - from);
      if (highest(left.length) * MOST <= peak) continue;
      for (let run = TAPS; run < left.length; run += RUN)
        peak = Math.max(peak, highestBetween(run, Math.min(RUN, left.length - run)));
    }
  return peak;
}
