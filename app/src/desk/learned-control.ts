import type { Candidate } from '@old-echo/core/desk/learn/learn-mapping';
import type { LearnedRule } from '@old-echo/core/desk/learn/learn-rule';

/** What was learned of one kind of control. */
export interface LearnedControl {
  readonly rule: LearnedRule;
  readonly mapping: Candidate;
  /** Where the desk answered when it was asked, and after how many ms; null where it did not. */
  readonly asked: { readonly address: string; readonly answeredIn: number } | null;
}

/** By the patterns of their lessons. */
export type LearnedControls = Readonly<Record<string, LearnedControl>>;
