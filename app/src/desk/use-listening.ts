import { useCallback, useEffect, useRef, useState } from 'react';

import type { NewListening } from '@old-echo/core/contracts/listening';
import { type LoggedMessage, PACKETS_KEPT } from '@old-echo/core/desk/logged-message';

import { toApiFault } from '../store/api';
import { useEndListeningMutation, useLazyListeningQuery, useStartListeningMutation } from '../store/desk-api';

const LOOK_MS = 700;
/** What the desk says of a move may be this long on its way, in ms. */
const ON_ITS_WAY_MS = 200;

export interface Listening {
  readonly id: string | undefined;
  /** What came from the desk, the oldest first. */
  readonly heard: readonly LoggedMessage[];
  readonly error: unknown;
  /** Returns all that was heard until now, and what was on its way. */
  readonly look: () => Promise<readonly LoggedMessage[]>;
}

/** Listens to a desk whose language is to be learned, as long as the page is open. */
export function useListening(place: NewListening): Listening {
  const [start] = useStartListeningMutation();
  const [end] = useEndListeningMutation();
  const [ask] = useLazyListeningQuery();
  const [id, setId] = useState<string>();
  const [error, setError] = useState<unknown>();
  const [heard, setHeard] = useState<readonly LoggedMessage[]>([]);
  // Packets of what is begun anew are counted on from those before, so that later ones are always higher.
  const kept = useRef<{ before: number; last: number; all: readonly LoggedMessage[] }>({ before: 0, last: 0, all: [] });
  const [attempt, setAttempt] = useState(0);
  const where = JSON.stringify(place);
  useEffect(() => {
    let own: string | undefined;
    let isOver = false;
    void start(JSON.parse(where) as NewListening).then((answer) => {
      own = answer.data?.id;
      const { all } = kept.current;
      kept.current = { before: all.at(-1)?.packet ?? 0, last: 0, all };
      if (isOver) return own && void end(own);
      setId(own);
      setError(answer.error);
    });
    return () => {
      isOver = true;
      if (own) void end(own);
    };
  }, [where, start, end, attempt]);
  const lookAgain = useCallback(async () => {
    if (id === undefined) return kept.current.all;
    const { data, error: failed } = await ask({ id, after: kept.current.last });
    setError(failed);
    // Forgotten while the page slept, or the server was started again: it is begun once more.
    if (failed && toApiFault(failed).code === 'not-found') {
      setId(undefined);
      setAttempt((before) => before + 1);
    }
    const { before, last } = kept.current;
    const more = (data?.messages ?? [])
      .filter(({ way, packet }) => way === 'from the desk' && packet > last)
      .map((message) => ({ ...message, packet: before + message.packet }));
    kept.current = {
      before,
      last: Math.max(last, data?.last ?? 0),
      all: [...kept.current.all, ...more].slice(-PACKETS_KEPT),
    };
    if (more.length > 0) setHeard(kept.current.all);
    return kept.current.all;
  }, [ask, id]);
  // One after the other: a look that has begun before a move does not know of it, and must not be the answer to one that began after.
  const looking = useRef<Promise<readonly LoggedMessage[]>>(Promise.resolve([]));
  const inTurn = useCallback(() => (looking.current = looking.current.then(lookAgain)), [lookAgain]);
  const look = useCallback(async () => {
    await new Promise((resolve) => setTimeout(resolve, ON_ITS_WAY_MS));
    return inTurn();
  }, [inTurn]);
  useEffect(() => {
    let [isOver, timer]: [boolean, ReturnType<typeof setTimeout> | undefined] = [false, undefined];
    const again = async (): Promise<void> => {
      await inTurn();
      if (!isOver) timer = setTimeout(() => void again(), LOOK_MS);
    };
    timer = setTimeout(() => void again(), LOOK_MS);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [inTurn]);
  return { id, heard, error, look };
}
