import type { Candidate } from '@old-echo/core/desk/learn/learn-mapping';
import type { FilledQuestion } from '@old-echo/core/desk/learn/learn-question';
import type { LearnedRule } from '@old-echo/core/desk/learn/learn-rule';

/** A question that the desk has answered, where, and after how many ms. */
export interface Asked extends FilledQuestion {
  readonly answer: string;
  readonly answeredIn: number;
}

/** What was learned of one kind of control. */
export interface LearnedControl {
  readonly rule: LearnedRule;
  readonly mapping: Candidate;
  /** Null where it cannot be asked for. */
  readonly asked: Asked | null;
}

/** By the patterns of their lessons. */
export type LearnedControls = Readonly<Record<string, LearnedControl>>;
