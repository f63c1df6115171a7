import type { LinkTrial } from '../desk/link-trial';
import { formatCount, isOne, plural } from './format-value';

interface TrialReport {
  /** All is well; it works, but not all of it; or it cannot be used. */
  readonly verdict: 'done' | 'care' | 'stop';
  readonly title: string;
  readonly lines: readonly string[];
}

/** Share of packets that may be lost without being worth a look: writes and questions are made up for. */
const MOST_LOST = 0.05;
/** How many are named of what is wrong. */
const NAMED = 5;

/** What came of trying a link, and what to do about what is wrong. */
export function describeLinkTrial({ desk, why, ...trial }: LinkTrial): TrialReport {
  const { roundTrip, packets, lost, settings, answered, unanswered, unasked, missing, unfit } = trial;
  if (why) {
    const advice = desk
      ? 'Choose its model, or the address of another desk.'
      : 'Check that it is on, its cable, and the address.';
    return { verdict: 'stop', title: why, lines: [advice] };
  }
  const odd = settings - answered - unanswered;
  const lines = [
    roundTrip
      ? `There and back in ${roundTrip.median} ms, at worst ${roundTrip.worst} ms.`
      : 'None of the small packets came back.',
    lost === 0 ? 'No packet was lost.' : `${lost} of ${plural(packets, 'packet')} lost: check the network.`,
    answered === settings
      ? `All ${plural(settings, 'setting')} answered.`
      : `${formatCount(answered)} of ${plural(settings, 'setting')} answered with a value that fits.`,
  ];
  if (unanswered > 0) lines.push(`${formatCount(unanswered)} did not answer: ${firstOf(missing, unanswered)}.`);
  const wrong = unfit.map(({ address, why: reason }) => `${address} (${reason})`);
  if (odd > 0)
    lines.push(
      `${formatCount(odd)} answered outside of ${isOne(odd) ? 'its range' : 'their ranges'}: ${firstOf(wrong, odd)}.`,
    );
  if (unasked > 0) lines.push(`${plural(unasked, 'setting')} cannot be asked: what is sent there is never confirmed.`);
  const isWell = answered === settings && lost <= packets * MOST_LOST;
  return { verdict: isWell ? 'done' : 'care', title: `${desk?.name ?? 'The desk'} answers`, lines };
}

const firstOf = (names: readonly string[], all: number): string =>
  [...names.slice(0, NAMED), ...(all > NAMED ? [`${formatCount(all - NAMED)} more`] : [])].join(', ');
