import { type Caution, isCovered, type Point, type Severity } from './caution';

/** How a caution was answered: someone has looked, or its levels fade. */
export type AnswerWay = 'checked' | 'fade';

/** An answer, with what was read of the caution. */
export interface Answer {
  /** The caution's id. */
  readonly id?: string | undefined;
  readonly way: AnswerWay;
  readonly points: readonly Point[];
}

/** What answers a caution, if anything does. */
export type Answering = AnswerWay | 'accepted before';

/**
 * How a caution stands answered: by itself or by answers that together cover all it says, or because the same was looked at and
 * accepted when these two scenes followed each other before.
 */
export function answerTo(
  caution: Pick<Caution, 'id' | 'points' | 'parts' | 'waysOut'>,
  answers: readonly Answer[],
  fade: number,
  accepted: readonly Point[] = [],
): Answering | undefined {
  const by = (ways: readonly AnswerWay[]): boolean => {
    const own = answers.filter(({ way }) => ways.includes(way));
    return (
      own.some(({ id }) => id === caution.id) ||
      isCovered(
        caution,
        own.flatMap(({ points }) => points),
      )
    );
  };
  if (by(['checked'])) return 'checked';
  if (fade > 0 && caution.waysOut.includes('fade') && by(['checked', 'fade'])) return 'fade';
  return isCovered(caution, accepted) ? 'accepted before' : undefined;
}

/** Every *stop* that nothing answers yet. */
export const openStops = (
  cautions: readonly Caution[],
  answers: readonly Answer[],
  fade: number,
  accepted: readonly Point[] = [],
): Caution[] =>
  cautions.filter((caution) => isStop(caution) && answerTo(caution, answers, fade, accepted) === undefined);

const isStop = ({ weight }: { readonly weight: Severity }): boolean => weight === 'stop';
