/** Whether something is an object with named values: no list, and not null. */
export const isRecord = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Whether something is a list, of which nothing more is known. */
export const isList = (value: unknown): value is readonly unknown[] => Array.isArray(value);
