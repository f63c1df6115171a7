/** Trials below which a blind test says nothing. */
export const MIN_TRIALS = 10;
/** The most answers of one test. */
export const MAX_TRIALS = 200;

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
