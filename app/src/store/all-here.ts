interface Asked {
  readonly isUninitialized: boolean;
  readonly isError: boolean;
  readonly currentData?: unknown;
}

/**
 * Whether every one of these questions is answered, went wrong or is not asked. A page is drawn once all that it is about is
 * here: what would come in one after the other would move away under a finger.
 */
export const allHere = (...questions: readonly Asked[]): boolean =>
  questions.every(
    ({ isUninitialized, isError, currentData }) => isUninitialized || isError || currentData !== undefined,
  );
