import { string } from 'yup';

/** The longest name something can have, in characters. */
export const LONGEST_NAME = 60;

/** A name as the uniqueness of names sees it: without case and accents. */
const folded = (name: string): string => name.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();

/** A name that is not among `taken`: itself, or with the first free number behind it. Case and accents do not count. */
export function freeName(name: string, taken: readonly string[]): string {
  const used = new Set(taken.map(folded));
  for (let n = 2, next = name; ; n++) {
    if (!used.has(folded(next))) return next;
    next = `${name.slice(0, LONGEST_NAME - 1 - String(n).length)} ${n}`;
  }
}

export const idShape = string().matches(/^[0-9A-HJKMNP-TV-Z]{26}$/, '${path} must be an id');

/** The name of something people make: `what` is it with its article, "a scene". */
export const nameShape = (what: string) =>
  string().trim().min(1, `${what} needs a name`).max(LONGEST_NAME, `a name has at most ${LONGEST_NAME} characters`);

export const LONGEST_NOTE = 2000;
export const noteShape = string().trim().max(LONGEST_NOTE, `a note has at most ${LONGEST_NOTE} characters`);

export const LONGEST_WHO = 40;
/** Who did something, as they call themselves. */
export const whoShape = string().trim().max(LONGEST_WHO, `a name has at most ${LONGEST_WHO} characters`).default('');
