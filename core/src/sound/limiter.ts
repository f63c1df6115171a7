import { dbToFactor, onePoleCoefficient } from '../signal/sound';
import { type BlockProcessor, samplesAt } from './block-processor';
import { kernels } from './wasm-kernels';

/** How far a limiter looks ahead, in seconds. */
export const LOOKAHEAD_SECONDS = 0.0015;

/**
 * Keeps channels together at or under a ceiling. It looks ahead, so it is down before a peak comes: the gain is the mean of the
 * lowest gains needed in a short time around each sample, which is never more than is needed at it.
 * It works on windows in place, and the block behind the one that it works on has to be there.
 * @param ceiling dB of full scale
 * @param release seconds
 * @param frames samples of the whole sound
 */
export function createLimiter(
  windows: readonly Float32Array[],
  ceiling: number,
  release: number,
  frames: number,
  rate: number,
): BlockProcessor {
  const { BLOCK } = kernels().at;
  const most = dbToFactor(ceiling);
  const ahead = Math.max(1, Math.round(LOOKAHEAD_SECONDS * rate));
  const rise = onePoleCoefficient(release, rate);
  const last = new Float64Array(ahead).fill(1);
  let [gain, sum] = [1, ahead];
  // The lowest gain that is needed at each sample of a block, and as far behind it as one looks.
  const lowest = new Float64Array(BLOCK + ahead).fill(1);
  let looked = -1;
  return {
    run: (count, from) => {
      if (looked < 0) looked = from;
      const end = Math.min(frames, from + count + ahead);
      for (; looked < end; looked++) {
        const peak = windows.reduce((high, window) => Math.max(high, Math.abs(window[looked % window.length]!)), 0);
        if (peak <= most) continue;
        const needed = most / peak;
        const place = looked - from;
        // From the peak backwards, until an earlier one needs no more: that has been there all the way already.
        for (let i = place; i >= Math.max(0, place - ahead) && lowest[i]! > needed; i--) lowest[i] = needed;
      }
      const blocks = windows.map((window) => samplesAt(window, from, count));
      for (let i = 0; i < count; i++) {
        gain = Math.min(lowest[i]!, 1 + (gain - 1) * rise);
        const slot = (from + i) % ahead;
        sum += gain - last[slot]!;
        last[slot] = gain;
        // A sum of many numbers is not exact: what needs no less stays exactly as it is.
        const by = sum > ahead - 1e-9 ? 1 : sum / ahead;
        for (const block of blocks) block[i] = clip(block[i]! * by, most);
      }
      lowest.copyWithin(0, count, count + ahead).fill(1, ahead);
    },
  };
}

const clip = (sample: number, most: number): number => Math.max(-most, Math.min(most, sample));
