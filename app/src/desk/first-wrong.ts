import { capitalise } from '@old-echo/core/phrases/format-value';

/** The first thing that is wrong with what was typed, as a sentence; empty where nothing is. */
export function firstWrong(shape: { validateSync(typed: unknown): unknown }, typed: object): string {
  try {
    shape.validateSync(typed);
    return '';
  } catch (error) {
    return error instanceof Error ? capitalise(`${error.message}.`) : '';
  }
}
