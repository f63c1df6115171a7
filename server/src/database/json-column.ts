declare const contents: unique symbol;

/** A text column that holds `T` as JSON. The driver hands out columns of the type JSON as text too. */
export type JsonText<T> = string & { readonly [contents]: T };

/** What a JSON column of a row holds. */
export const fromJson = <T>(text: JsonText<T>): T =>
  // What was written is what is read: nobody but toJson makes a JsonText.
  JSON.parse(text) as T;

/** `value` as a JSON column holds it. */
export const toJson = <T>(value: T): JsonText<T> =>
  // A brand, which no string has by itself.
  JSON.stringify(value) as JsonText<T>;
