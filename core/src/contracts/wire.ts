import { number, object } from 'yup';

/** After which packet, by its number. */
export const wireQueryShape = object({ after: number().integer().min(0).default(0) }).noUnknown();
