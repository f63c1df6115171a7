import type { Sound } from './sound';

/**
 * How alike left and right are, every 100 ms over 400 ms: 1 for mono, 0 for nothing in common, −1 for opposite polarity;
 * null where either is silent or there is only one channel.
 */
export function correlationOverTime({ channels, rate }: Sound): (number | null)[] {
  const [left, right] = channels;
  if (!left || !right) return [];
  const step = Math.round(rate / 10);
  const found: (number | null)[] = [];
  for (let from = 0; from + 4 * step <= left.length; from += step)
    found.push(correlation(left, right, from, from + 4 * step));
  return found;
}

/** The correlation of two channels between two samples; null where either is silent. */
export function correlation(left: Float32Array, right: Float32Array, from: number, to: number): number | null {
  let [both, one, other] = [0, 0, 0];
  for (let i = from; i < to; i++) {
    const [l, r] = [left[i] as number, right[i] as number];
    both += l * r;
    one += l * l;
    other += r * r;
  }
  return one > 0 && other > 0 ? both / Math.sqrt(one * other) : null;
}
