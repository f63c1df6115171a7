const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** Autosaves younger than this are all kept, in ms. */
const KEEP_ALL_MS = HOUR;
/** Up to this age one stays per hour, in ms. */
const HOURLY_FOR = DAY;
/** Up to this age one stays per day, in ms; what is older goes. */
const DAILY_FOR = 30 * DAY;

export interface Autosave {
  readonly id: string;
  readonly madeAt: Date;
}

/**
 * Which of the scenes that were kept by themselves can go, so that they never crowd out the others: all of the last hour
 * stay, then the newest of each hour for a day, then the newest of each day (UTC) for a month. Hours and days are those
 * of the clock, so it makes no difference how often this is asked. A scene that is in use or that someone made their
 * own must not be among `kept`.
 * @param now the time of asking
 */
export function expiredAutosaves(kept: readonly Autosave[], now: Date): string[] {
  const newestFirst = [...kept].sort((a, b) => b.madeAt.getTime() - a.madeAt.getTime() || (a.id < b.id ? 1 : -1));
  const filled = new Set<string>();
  return newestFirst
    .filter(({ madeAt }) => {
      const age = now.getTime() - madeAt.getTime();
      if (age <= KEEP_ALL_MS) return false;
      if (age > DAILY_FOR) return true;
      const width = age <= HOURLY_FOR ? HOUR : DAY;
      const slot = `${width} ${Math.floor(madeAt.getTime() / width)}`;
      if (filled.has(slot)) return true;
      filled.add(slot);
      return false;
    })
    .map(({ id }) => id);
}
