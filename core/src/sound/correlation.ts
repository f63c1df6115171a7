import type { PcmAudio } from '../signal/sound';

/** Steps per second, and how many of them are looked at together. */
const [STEPS, WINDOW] = [10, 4];

/**
 * How alike left and right are, every 100 ms over 400 ms: 1 for mono, 0 for nothing in common, −1 for opposite polarity;
 * null where either is silent or there is only one channel.
 */
export function correlationOverTime({ channels, rate }: PcmAudio): (number | null)[] {
  const [left, right] = channels;
  if (!left || !right) return [];
  const step = Math.round(rate / STEPS);
  const steps = Array.from({ length: Math.floor(left.length / step) }, (_, i) =>
    products(left, right, i * step, (i + 1) * step),
  );
  return steps.slice(WINDOW - 1).map((_, i) => {
    const sums = [0, 1, 2].map((n) => steps.slice(i, i + WINDOW).reduce((sum, one) => sum + (one[n] ?? 0), 0));
    const [both = 0, one = 0, other = 0] = sums;
    return one > 0 && other > 0 ? both / Math.sqrt(one * other) : null;
  });
}

/** The sums of left times right, left squared and right squared. */
function products(left: Float32Array, right: Float32Array, from: number, to: number): [number, number, number] {
  let [both, one, other] = [0, 0, 0];
  for (let i = from; i < to; i++) {
    const [l, r] = [left[i]!, right[i]!];
    both += l * r;
    one += l * l;
    other += r * r;
  }
  return [both, one, other];
}
