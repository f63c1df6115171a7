import { monotonicFactory } from 'ulid';

/** A name for a new row: what was made later sorts behind what was made before, also within one millisecond. */
export const newId: () => string = monotonicFactory();
