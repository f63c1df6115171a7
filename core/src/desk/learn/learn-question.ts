import { fillArgument, fillTemplate } from '../link-map/template';
import { sameOnWire, type WireValue } from '../link-map/value-mapping';
import type { LoggedMessage } from '../logged-message';
import { learnTemplate } from './learn-template';
import type { Lesson, Numbers } from './lessons';

/** What is sent to be told how a control stands, with the numbers of the control in it. */
export interface LearnedQuestion {
  readonly address: string;
  readonly arguments: readonly WireValue[];
}

/** How a control is asked for, as the file of a map has it. */
export interface LearnedAsk extends LearnedQuestion {
  readonly answer: string;
  readonly argument: number | string;
}

/** A message that is sent. */
export interface FilledQuestion {
  readonly address: string;
  readonly arguments: WireValue[];
}

const NUMBER = /^-?\d+(\.\d+)?$/;

/** "/subscribe 10 all" as a message: its address, and arguments that are numbers where they look like some. */
export function typedMessage(text: string): FilledQuestion | undefined {
  const [address = '', ...args] = text.trim().split(/\s+/);
  return address === '' ? undefined : { address, arguments: args.map((arg) => (NUMBER.test(arg) ? Number(arg) : arg)) };
}

/**
 * The question for all settings of a lesson, from the one that asks for the shown control: `/tell/taps 2` for a send to mix 2 is
 * `/tell/taps {m}`. It is a guess until its answers are held against what is known ({@link learnAsk}).
 */
export function learnQuestion({ shown }: Lesson, text: string): LearnedQuestion | undefined {
  const spaced = text.trim().replaceAll(/\s+/g, ' ');
  return typedMessage(learnTemplate([{ numbers: shown.numbers, text: spaced }]) ?? spaced);
}

/** The question for one setting. */
export const filledQuestion = (question: LearnedQuestion, numbers: Numbers): FilledQuestion => ({
  address: fillTemplate(question.address, numbers),
  arguments: question.arguments.map((arg) => (typeof arg === 'string' ? fillArgument(arg, numbers) : arg)),
});

/** What one control was asked for, how it is known to stand on the wire, and what was heard then. */
export interface QuestionAnswer {
  readonly numbers: Numbers;
  readonly stands: WireValue;
  readonly heard: readonly Pick<LoggedMessage, 'address' | 'args'>[];
}

/**
 * Where in its answers the question is answered: the argument that, for each control that was asked for, is what that one is known to stand at.
 * @returns undefined where there is none
 */
export function learnAsk(question: LearnedQuestion, answers: readonly QuestionAnswer[]): LearnedAsk | undefined {
  let readings: { numbers: Numbers; text: string }[][] = [[]];
  for (const { numbers, stands, heard } of answers) {
    const places = heard.flatMap(({ address, args }) =>
      args.flatMap((arg, at) => (sameOnWire(arg, stands) ? [{ numbers, text: `${address} ${at}` }] : [])),
    );
    readings = readings
      .flatMap((reading) => places.map((one) => [...reading, one]))
      .filter((reading) => reading.length === 1 || learnTemplate(reading) !== undefined);
  }
  const place = readings[0] && answers.length > 0 ? learnTemplate(readings[0]) : undefined;
  if (place === undefined) return undefined;
  const at = place.lastIndexOf(' ');
  const [answer, argument] = [place.slice(0, at), place.slice(at + 1)];
  return { ...question, answer, argument: NUMBER.test(argument) ? Number(argument) : argument };
}
