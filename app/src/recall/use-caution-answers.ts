import { useMemo, useState } from 'react';

import type { Recall } from '@old-echo/core/contracts/restore';
import { readAddress } from '@old-echo/core/desk/address';
import type { Caution, Point } from '@old-echo/core/recall/caution';
import {
  type Answer,
  type Answering,
  answerTo,
  type AnswerWay,
  openStops,
} from '@old-echo/core/recall/caution-answers';
import type { FadeCurve } from '@old-echo/core/recall/fade-curves';
import type { ScopeRule } from '@old-echo/core/recall/scope-rules';

/** How long levels take when a caution is answered with a fade and no time was chosen yet, in seconds. */
export const DEFAULT_FADE_SECONDS = 3;

/** What is answered to the cautions of a preview, and what that makes of its recall. */
export interface Answers {
  /** The recall with what was left out, and what is muted first. */
  readonly recall: Recall | undefined;
  readonly fade: number;
  readonly setFade: (seconds: number) => void;
  readonly curve: FadeCurve;
  readonly setCurve: (curve: FadeCurve) => void;
  readonly leftOut: number;
  readonly bringBackIn: () => void;
  readonly wayOf: (caution: Caution) => Answering | undefined;
  readonly answer: (caution: Caution, way: AnswerWay | undefined) => void;
  /** All that was answered, as it is sent. */
  readonly given: readonly Answer[];
  readonly leaveOut: (addresses: readonly string[]) => void;
  readonly muteFirst: (strips: readonly string[]) => void;
  /** Every *stop* that is still open. */
  readonly open: (cautions: readonly Caution[]) => readonly Caution[];
}

/**
 * @param accepted what was looked at before, when these two scenes followed each other
 * @param usualFade what it fades over until something else is chosen: the rest of a fade goes on as one
 */
export function useAnswers(recall: Recall | undefined, accepted: readonly Point[], usualFade = 0): Answers {
  const [given, setGiven] = useState<readonly Answer[]>([]);
  const [chosen, setFade] = useState<number | null>(null);
  const [curve, setCurve] = useState<FadeCurve>('even');
  const [left, setLeft] = useState<readonly string[]>([]);
  const [muted, setMuted] = useState<readonly string[]>([]);
  const fade = chosen ?? usualFade;
  const answered = useMemo(
    () =>
      !recall || (left.length === 0 && muted.length === 0)
        ? recall
        : {
            ...recall,
            scope: [...recall.scope, ...excludeRules(left)],
            muteFirst: [...new Set([...recall.muteFirst, ...muted])],
          },
    [recall, left, muted],
  );
  return {
    recall: answered,
    fade,
    setFade,
    curve,
    setCurve,
    given,
    leftOut: left.length,
    bringBackIn: () => setLeft([]),
    wayOf: (caution) => answerTo(caution, given, fade, accepted),
    answer: (caution, way) => {
      const about = new Set(caution.points.map((point) => point.about));
      // Whatever was answered of it goes, so that one answer can be taken back or replaced by another.
      const others = given.map((one) => ({ ...one, points: one.points.filter((point) => !about.has(point.about)) }));
      setGiven(way ? [...others, { way, points: caution.points }] : others);
      if (way === 'fade' && fade === 0) setFade(DEFAULT_FADE_SECONDS);
    },
    leaveOut: (addresses) => setLeft([...new Set([...left, ...addresses])]),
    muteFirst: (strips) => setMuted([...new Set([...muted, ...strips])]),
    open: (cautions) => openStops(cautions, given, fade, accepted),
  };
}

/** Rules that leave single settings where they are, one for each strip. */
function excludeRules(addresses: readonly string[]): ScopeRule[] {
  const keys = new Map<string, string[]>();
  for (const address of addresses) {
    const parts = readAddress(address);
    if (parts) keys.set(parts.strip, [...(keys.get(parts.strip) ?? []), parts.key]);
  }
  return [...keys].map(([strip, settings]) => ({ strips: [strip], sections: ['*'], settings, include: false }));
}
