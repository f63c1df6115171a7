import { useMemo, useState } from 'react';

import type { Recall, RestoreRequest } from '@old-echo/core/contracts/restore';
import { readAddress } from '@old-echo/core/desk/address';
import type { Caution } from '@old-echo/core/preview/caution';
import type { ScopeRule } from '@old-echo/core/scope/rules';

/** How long levels take when a caution is answered with a fade and no time was chosen yet, in seconds. */
export const USUAL_FADE = 3;

type Way = RestoreRequest['answers'][number]['way'];

/** What is answered to the cautions of a preview, and what that makes of its recall. */
export interface Answers {
  /** The recall with what was left out, and what is muted first. */
  readonly recall: Recall | undefined;
  readonly fade: number;
  readonly setFade: (seconds: number) => void;
  readonly leftOut: number;
  readonly bringBackIn: () => void;
  readonly wayOf: (caution: Caution) => Way | undefined;
  readonly answer: (caution: Caution, way: Way | undefined) => void;
  readonly leaveOut: (addresses: readonly string[]) => void;
  readonly muteFirst: (strips: readonly string[]) => void;
  /** Every *stop* that is still open. */
  readonly open: (cautions: readonly Caution[]) => readonly Caution[];
}

export function useAnswers(recall: Recall | undefined): Answers {
  const [ways, setWays] = useState<ReadonlyMap<string, Way>>(new Map());
  const [fade, setFade] = useState(0);
  const [left, setLeft] = useState<readonly string[]>([]);
  const [muted, setMuted] = useState<readonly string[]>([]);
  const answered = useMemo(
    () =>
      !recall || (left.length === 0 && muted.length === 0)
        ? recall
        : {
            ...recall,
            scope: [...recall.scope, ...rulesWithout(left)],
            muteFirst: [...new Set([...recall.muteFirst, ...muted])],
          },
    [recall, left, muted],
  );
  const wayOf = ({ id, waysOut }: Caution): Way | undefined => {
    const way = ways.get(id);
    return way === 'fade' && (fade === 0 || !waysOut.includes('fade')) ? undefined : way;
  };
  return {
    recall: answered,
    fade,
    setFade,
    leftOut: left.length,
    bringBackIn: () => setLeft([]),
    wayOf,
    answer: ({ id }, way) => {
      const next = new Map(ways);
      if (way) next.set(id, way);
      else next.delete(id);
      setWays(next);
      if (way === 'fade' && fade === 0) setFade(USUAL_FADE);
    },
    leaveOut: (addresses) => setLeft([...new Set([...left, ...addresses])]),
    muteFirst: (strips) => setMuted([...new Set([...muted, ...strips])]),
    open: (cautions) => cautions.filter((caution) => caution.weight === 'stop' && !wayOf(caution)),
  };
}

/** Rules that leave single settings where they are, one for each strip. */
function rulesWithout(addresses: readonly string[]): ScopeRule[] {
  const keys = new Map<string, string[]>();
  for (const address of addresses) {
    const parts = readAddress(address);
    if (parts) keys.set(parts.strip, [...(keys.get(parts.strip) ?? []), parts.key]);
  }
  return [...keys].map(([strip, settings]) => ({ strips: [strip], sections: ['*'], settings, take: false }));
}
