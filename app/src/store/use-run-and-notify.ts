import { faultLine, type UndoRequest } from './api';
import { noticed } from './notice-slice';
import { useAppDispatch } from './store';

/** What became of something that was asked of the server. */
interface Answer<T> {
  readonly data?: T | undefined;
  readonly error?: unknown;
}

/**
 * Awaits a request and shows its result or fault as a notice, unless there is nothing to say. Returns its answer, or undefined
 * where it was refused.
 */
export function useRunAndNotify() {
  const dispatch = useAppDispatch();
  return async <T>(
    asked: Promise<Answer<T>>,
    done: (answer: NonNullable<T>) => string,
    undo?: UndoRequest | ((answer: NonNullable<T>) => UndoRequest),
  ): Promise<NonNullable<T> | undefined> => {
    const { data, error } = await asked;
    if (data === undefined || data === null) {
      dispatch(noticed(faultLine(error)));
      return undefined;
    }
    const said = done(data);
    if (said) dispatch(noticed(said, typeof undo === 'function' ? undo(data) : undo));
    return data;
  };
}
