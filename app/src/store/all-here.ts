interface Asked {
  readonly isUninitialized: boolean;
  readonly isError: boolean;
  readonly currentData?: unknown;
}

/**
 * Whether every one of these questions is answered or not asked: of what a page cannot be without. Where one went wrong the page
 * is not drawn, which would ask it again, but what waits for it says why it does not come.
 */
export const allAnswered = (...questions: readonly Asked[]): boolean =>
  questions.every(({ isUninitialized, currentData }) => isUninitialized || currentData !== undefined);

/**
 * Whether every one of these questions is answered, went wrong or is not asked: of what a page can be without. A page is drawn once all that it is about is
 * here: what would come in one after the other would move away under a finger.
 */
export const allHere = (...questions: readonly Asked[]): boolean =>
  questions.every(
    ({ isUninitialized, isError, currentData }) => isUninitialized || isError || currentData !== undefined,
  );
