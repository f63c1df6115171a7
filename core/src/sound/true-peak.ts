import type { PcmAudio } from '../signal/sound';
import type { Channels } from './recording';
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

/** The highest level between and at the samples of a sound that comes piece by piece; four times oversampled. */
export class TruePeakMeter {
  /** The last samples of each channel: those that the next are interpolated with, and those that do not fill a block yet. */
  private readonly held: readonly Float32Array[];
  private count = TAPS;

  /** @param peak a level that is known to be reached, as a factor of full scale */
  constructor(
    channels: number,
    private peak = 0,
  ) {
    const { at, singles, left } = kernels();
    if (at.TAPS !== TAPS) throw new Error('the kernels count other taps');
    const taps = singles(at.PLACES, 3 * TAPS);
    PHASES.forEach((phase, place) => phase.forEach((tap, k) => (taps[3 * k + place] = tap)));
    // Before the sound there is silence.
    this.held = Array.from({ length: channels }, () => new Float32Array(left.length));
  }

  add(channels: Channels): void {
    const room = this.held[0]?.length ?? 0;
    const frames = channels[0]?.length ?? 0;
    for (let from = 0; from < frames;) {
      const to = Math.min(frames, from + room - this.count);
      this.held.forEach((held, c) => held.set(channels[c]!.subarray(from, to), this.count));
      this.count += to - from;
      from = to;
      if (this.count === room) this.look(room);
    }
  }

  /** The level, as a factor of full scale; nothing may be added afterwards. */
  end(): number {
    // Behind it there is silence too, as far as the last samples are heard in it.
    this.add(this.held.map(() => new Float32Array(2 * TAPS)));
    this.look(this.count);
    return this.peak;
  }

  private look(count: number): void {
    const { left, highest, highestBetween } = kernels();
    for (const held of this.held) {
      left.set(held);
      left.fill(0, count);
      const most = highest(left.length);
      this.peak = Math.max(this.peak, most);
      if (most * MOST > this.peak)
        for (let run = TAPS; run < count; run += RUN)
          this.peak = Math.max(this.peak, highestBetween(run, Math.min(RUN, left.length - run)));
      held.copyWithin(0, count - TAPS, count);
    }
    this.count = TAPS;
  }
}

/** The highest sample, as a factor of full scale. */
export function samplePeak(channels: Channels): number {
  const { left, highest } = kernels();
  let peak = 0;
  for (const samples of channels)
    for (let from = 0; from < samples.length; from += left.length) {
      left.fill(0).set(samples.subarray(from, from + left.length));
      peak = Math.max(peak, highest(left.length));
    }
  return peak;
}

/** The highest level between and at the samples of a whole sound, as a factor of full scale. */
export function truePeak({ channels }: PcmAudio): number {
  const meter = new TruePeakMeter(channels.length, samplePeak(channels));
  meter.add(channels);
  return meter.end();
}
