import { decodeTime, encodeTime, monotonicFactory } from 'ulid';

/** A name for a new row: what was made later sorts behind what was made before, also within one millisecond. */
export const newId: () => string = monotonicFactory();

/** When a row was made that has an id of ours. */
export const madeAt = (id: string): Date => new Date(decodeTime(id));

/** The least id that something made at a moment can have. */
export const idAt = (moment: Date): string => `${encodeTime(moment.getTime())}${'0'.repeat(16)}`;
