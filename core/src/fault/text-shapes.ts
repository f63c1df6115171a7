import { string } from 'yup';

import { LONGEST_NAME } from '../scenes/suggest-name';

export const idShape = string().matches(/^[0-9A-HJKMNP-TV-Z]{26}$/, '${path} must be an id');

/** The name of something people make: `what` is it with its article, "a scene". */
export const nameShape = (what: string) =>
  string().trim().min(1, `${what} needs a name`).max(LONGEST_NAME, `a name has at most ${LONGEST_NAME} characters`);

export const LONGEST_NOTE = 2000;
export const noteShape = string().trim().max(LONGEST_NOTE, `a note has at most ${LONGEST_NOTE} characters`);

export const LONGEST_WHO = 40;
/** Who did something, as they call themselves. */
export const whoShape = string().trim().max(LONGEST_WHO, `a name has at most ${LONGEST_WHO} characters`).default('');
