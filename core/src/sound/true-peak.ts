import type { Sound } from './sound';

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
/** Samples that are looked at together: where none of them could reach the peak so far, nothing between them can. */
const RUN = 16;

/** The highest level between and at the samples, as a factor of full scale; four times oversampled. */
export function truePeak({ channels }: Sound): number {
  let peak = 0;
  for (const samples of channels) peak = Math.max(peak, highest(samples, 0, samples.length));
  for (const samples of channels) {
    // Before and behind the sound there is silence.
    const padded = new Float32Array(samples.length + 2 * (TAPS + RUN));
    padded.set(samples, TAPS);
    for (let from = TAPS; from < samples.length + 2 * TAPS; from += RUN)
      if (highest(padded, from - TAPS + 1, from + RUN) * MOST > peak)
        for (const taps of PHASES) peak = Math.max(peak, peakOf(taps, padded, from, from + RUN));
  }
  return peak;
}

function highest(samples: Float32Array, from: number, to: number): number {
  let most = 0;
  for (let i = from; i < to; i++) {
    const x = samples[i] as number;
    if (x > most) most = x;
    else if (-x > most) most = -x;
  }
  return most;
}

/** The highest level of one phase in a run. */
function peakOf(taps: Float64Array, samples: Float32Array, from: number, to: number): number {
  let peak = 0;
  for (let at = from; at < to; at++) {
    let sum = 0;
    for (let k = 0; k < TAPS; k++) sum += (taps[k] as number) * (samples[at - k] as number);
    if (sum > peak) peak = sum;
    else if (-sum > peak) peak = -sum;
  }
  return peak;
}
