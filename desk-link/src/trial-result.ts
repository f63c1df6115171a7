import type { LinkTrial } from '@old-echo/core/desk/link-trial';

/** What is told where nothing answers. */
export const NOTHING_FOUND = {
  desk: null,
  roundTrip: null,
  packets: 0,
  lost: 0,
  settings: 0,
  answered: 0,
  unanswered: 0,
  unasked: 0,
  missing: [],
  unfit: [],
} satisfies Partial<LinkTrial>;

/** How long packets were under way, of how many were sent, in tenths of a ms. */
export function roundTrips(
  trips: readonly number[],
  packets: number,
): Pick<LinkTrial, 'roundTrip' | 'packets' | 'lost'> {
  const sorted = [...trips].sort((a, b) => a - b);
  const [median, worst] = [sorted[Math.floor(sorted.length / 2)], sorted.at(-1)];
  const roundTrip = median === undefined || worst === undefined ? null : { median: tenth(median), worst: tenth(worst) };
  return { roundTrip, packets, lost: packets - trips.length };
}

const tenth = (ms: number) => Math.round(ms * 10) / 10;
