import { Fault } from '../fault/fault';
import { truncate } from '../fault/text-shapes';

/** What was sent may be quoted, but not all of a book, in characters. */
const LONGEST_QUOTE = 200;

/** What is said of a profile that cannot be read, with the path of the first thing that is wrong. */
export function invalidProfile(path: string, why: string): Fault {
  const where = truncate(path, LONGEST_QUOTE);
  return new Fault(
    'refused-input',
    `The profile is not readable at ${where}: ${truncate(why, LONGEST_QUOTE)}.`,
    'Correct the profile and try again.',
    where,
  );
}
