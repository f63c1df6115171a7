interface TimedStem {
  /** Samples of its own rate from midnight to where it begins; null where its file does not say. */
  readonly timeReference: number | null;
  /** Hz. */
  readonly rate: number;
}

/** References that lie further apart than this are of different days, or of nothing: they line nothing up. Seconds. */
const FURTHEST_SECONDS = 3600;

/**
 * Where each of some stems begins in the song, in seconds: the earliest that says when it was recorded at its beginning, and
 * whatever says nothing too (EBU Tech 3285).
 */
export function stemStarts(stems: readonly TimedStem[]): readonly number[] {
  const times = stems.map(({ timeReference, rate }) => (timeReference === null ? null : timeReference / rate));
  const said = times.filter((time) => time !== null);
  const first = Math.min(...said);
  const linesUp = Math.max(...said) - first <= FURTHEST_SECONDS;
  return times.map((time) => (time === null || !linesUp ? 0 : time - first));
}
