import { blindTestP, MIN_TRIALS } from '../sound/blind-test';

/** What a blind test means, in a sentence. */
export function describeBlindTest(right: number, trials: number): string {
  if (trials < MIN_TRIALS) return `${MIN_TRIALS - trials} more before it means anything.`;
  const p = blindTestP(right, trials);
  const odds = p >= 0.0005 ? `${(p * 100).toFixed(p < 0.01 ? 2 : 1)} %` : 'less than 0.05 %';
  const guessing = `Guessing would do as well in ${odds} of tests.`;
  if (p <= 0.01) return `${guessing} You hear the difference.`;
  if (p <= 0.05) return `${guessing} You very likely hear the difference.`;
  if (p <= 0.2) return `${guessing} That could be luck; more trials would tell.`;
  return `${guessing} There is no sign that you hear a difference.`;
}
