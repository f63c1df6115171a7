import { string } from 'yup';

/** The longest name something can have, in characters. */
export const MAX_NAME_LENGTH = 60;

/** The text with at most so many characters, never ending in half of one. */
export const truncate = (text: string, longest: number): string => text.slice(0, longest).replace(/\p{Cs}$/u, '');

/** A name as the uniqueness of names sees it: without case and accents. */
const folded = (name: string): string => name.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();

/** A name that is not among `taken`: itself, or with the first free number behind it. Case and accents do not count. */
export function uniqueName(name: string, taken: readonly string[]): string {
  const used = new Set(taken.map(folded));
  for (let n = 2, next = name; ; n++) {
    if (!used.has(folded(next))) return next;
    next = `${truncate(name, MAX_NAME_LENGTH - 1 - String(n).length)} ${n}`;
  }
}

const ID = /^[0-9A-HJKMNP-TV-Z]{26}$/;
export const isId = (value: unknown): value is string => typeof value === 'string' && ID.test(value);
export const idShape = string().matches(ID, '${path} must be an id');

/** The name of something people make: `what` is it with its article, "a scene". */
export const nameShape = (what: string) =>
  string()
    .trim()
    .min(1, `${what} needs a name`)
    .max(MAX_NAME_LENGTH, `a name can have up to ${MAX_NAME_LENGTH} characters`);

export const MAX_NOTE_LENGTH = 2000;
export const noteShape = string().trim().max(MAX_NOTE_LENGTH, `a note can have up to ${MAX_NOTE_LENGTH} characters`);

export const MAX_PERSON_NAME_LENGTH = 40;
/** The longest that says who did something: a person, and the device they did it from. */
export const MAX_SIGNATURE_LENGTH = 100;
/** Who did something, as they call themselves at the machine itself; from a device, who was let in with it. */
export const signatureShape = string()
  .trim()
  .max(MAX_SIGNATURE_LENGTH, `who it was can have up to ${MAX_SIGNATURE_LENGTH} characters`)
  .default('');
