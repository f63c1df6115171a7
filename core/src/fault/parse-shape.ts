import { type InferType, type Schema, ValidationError } from 'yup';

import { assertBounded, otherKind } from './bounded-input';
import { Fault } from './fault';
import { truncate } from './text-shapes';

/** What was sent may be quoted, but not all of a book, in characters. */
const LONGEST_SENTENCE = 300;

/**
 * Reads something from outside against its shape, whole or not at all.
 * @throws Fault `refused-input` with the path of the first thing that is wrong
 */
export function parseShape<S extends Schema>(shape: S, value: unknown): InferType<S> {
  assertBounded(shape, value);
  try {
    // Fields that nobody knows are an error, not something to drop silently.
    return shape.validateSync(value, { abortEarly: true, stripUnknown: false });
  } catch (error) {
    // Yup takes a value that cannot be made a text for one, and stumbles over it.
    if (error instanceof TypeError)
      throw new Fault(
        'refused-input',
        'A value is of another kind than expected.',
        'Nothing was changed. Correct it and try again.',
      );
    if (!(error instanceof ValidationError)) throw error;
    if (error.type === 'typeError') throw otherKind(String(error.params?.['type']), error.path ?? '');
    const { message, path } = error;
    throw new Fault(
      'refused-input',
      `${message.charAt(0).toUpperCase()}${truncate(message.slice(1), LONGEST_SENTENCE).replace(/\.+$/, '')}.`,
      'Nothing was changed. Correct it and try again.',
      path,
    );
  }
}
