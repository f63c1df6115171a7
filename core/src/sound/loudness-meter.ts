import type { PcmAudio } from '../signal/sound';
import { BlockChain, type BlockProcessor } from './block-processor';
import { setFilters } from './filter-step';
import { kWeighting, type Loudness, loudnessOf, STEPS_PER_SECOND, weightOf } from './loudness';
import type { Channels } from './recording';
import { samplePeak, TruePeakMeter } from './true-peak';
import { kernels } from './wasm-kernels';

/**
 * Measures the loudness of a sound that comes piece by piece: K-weighting to ITU-R BS.1770-4, true peak four times oversampled.
 * One channel counts as a front one; five are L, R, C, Ls, Rs; six have the low-frequency channel as the fourth, left out.
 */
export class LoudnessMeter {
  private readonly energies: number[] = [];
  private readonly peak: TruePeakMeter;
  /** The last of the samples, less than a step of each channel. */
  private readonly held: readonly Float32Array[];
  private readonly pairs: readonly BlockChain[];
  private count = 0;
  private sum = 0;

  /** @param peak a level that is known to be reached, as a factor: what cannot be higher is not looked at closely */
  constructor(channels: number, rate: number, peak = 0) {
    this.peak = new TruePeakMeter(channels, peak);
    const length = Math.round(rate / STEPS_PER_SECOND);
    this.held = Array.from({ length: channels }, () => new Float32Array(length));
    this.pairs = Array.from(
      { length: Math.ceil(channels / 2) },
      (_, pair) => new BlockChain(() => [this.loadPair(2 * pair), this.energyOfPair(2 * pair, rate)]),
    );
  }

  /** Goes on with the next samples of each channel. */
  add(channels: Channels): void {
    this.peak.add(channels);
    const [first] = channels;
    const length = this.held[0]?.length ?? 0;
    for (let from = 0; first && from < first.length;) {
      const to = Math.min(first.length, from + length - this.count);
      this.held.forEach((held, c) => held.set(channels[c]!.subarray(from, to), this.count));
      this.count += to - from;
      from = to;
      if (this.count === length) this.endStep(length);
    }
  }

  /** The weighted mean square of all channels in each 100 ms so far. */
  get steps(): readonly number[] {
    return this.energies;
  }

  /** What all of it comes to; nothing may be added afterwards. */
  end(): Loudness {
    return loudnessOf(this.energies, this.peak.end());
  }

  private endStep(length: number): void {
    this.sum = 0;
    for (const pair of this.pairs) pair.runThrough(0, length);
    this.energies.push(this.sum);
    this.count = 0;
  }

  private loadPair(first: number): BlockProcessor {
    const { left, right } = kernels();
    return {
      run: (frames, from) =>
        [left, right].forEach((side, c) => {
          const held = this.held[first + c];
          if (held) side.set(held.subarray(from, from + frames));
          else side.fill(0, 0, frames);
        }),
    };
  }

  private energyOfPair(first: number, rate: number): BlockProcessor {
    const { pair, runFilters, energyOfLeft, energyOfRight } = kernels();
    const weighting = kWeighting(rate);
    const { memory } = setFilters(weighting);
    const [weight, second] = [weightOf(first, this.held.length), weightOf(first + 1, this.held.length)];
    const length = this.held[0]?.length ?? 0;
    return {
      run: (frames) => {
        pair(frames);
        runFilters(frames, 0, weighting.length);
        this.sum += (weight * energyOfLeft(frames) + second * energyOfRight(frames)) / length;
      },
      memory,
    };
  }
}

/** The loudness of a whole sound. */
export function measureLoudness({ channels, rate }: PcmAudio): Loudness {
  const meter = new LoudnessMeter(channels.length, rate, samplePeak(channels));
  meter.add(channels);
  return meter.end();
}
