/** Trials below which a blind test says nothing. */
export const MIN_TRIALS = 10;

/**
 * How likely it is to be right at least `right` times of `trials` by guessing: the upper tail of a binomial distribution with
 * one half, exact for up to 1,000 trials.
 */
export function blindTestP(right: number, trials: number): number {
  let [term, sum] = [0.5 ** trials, 0];
  for (let k = 0; k <= trials; k++) {
    if (k >= right) sum += term;
    term = (term * (trials - k)) / (k + 1);
  }
  return Math.min(1, sum);
}

/** What a blind test means, in a sentence. */
export function describeBlindTest(right: number, trials: number): string {
  if (trials < MIN_TRIALS) return `${MIN_TRIALS - trials} more before it means anything.`;
  const p = blindTestP(right, trials);
  const odds = p >= 0.0005 ? `${(p * 100).toFixed(p < 0.01 ? 2 : 1)} %` : 'less than 0.05 %';
  const guessing = `Guessing alone does as well in ${odds} of such tests.`;
  if (p <= 0.01) return `${guessing} You hear the difference.`;
  if (p <= 0.05) return `${guessing} You very likely hear the difference.`;
  if (p <= 0.2) return `${guessing} That could be luck; more trials would tell.`;
  return `${guessing} There is no sign that you hear a difference.`;
}
