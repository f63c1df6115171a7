import { useEffect, useRef, useState } from 'react';

import { type LoggedMessage, PACKETS_KEPT } from '@old-echo/core/desk/logged-message';
import { type Told, wireNews } from '@old-echo/core/desk/wire-news';

import { useLazyWireQuery } from '../store/desk-api';

const LOOK_MS = 1000;

interface Wire {
  /** The last thousand messages, the oldest first; undefined before the first look. */
  readonly all: readonly LoggedMessage[] | undefined;
  /** The last thousand that tell something. */
  readonly news: readonly LoggedMessage[];
  readonly told: Told;
  readonly error: unknown;
}

/** What goes over a desk's wire, looked at once a second as long as it is not paused. */
export function useWireMessages(desk: string, paused: boolean): Wire {
  const [look] = useLazyWireQuery();
  const last = useRef(0);
  const [wire, setWire] = useState<Wire>({ all: undefined, news: [], told: new Map(), error: undefined });
  useEffect(() => {
    if (paused) return;
    let isOver = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const again = async (): Promise<void> => {
      const { data, error } = await look({ desk, after: last.current });
      if (isOver) return;
      // A server that was started again counts anew.
      if (data) last.current = data.last;
      setWire((before) => {
        const { news, told } = wireNews(data?.messages ?? [], before.told);
        const all = data ? [...(before.all ?? []), ...data.messages].slice(-PACKETS_KEPT) : before.all;
        return {
          all,
          news: news.length > 0 ? [...before.news, ...news].slice(-PACKETS_KEPT) : before.news,
          told,
          error,
        };
      });
      timer = setTimeout(() => void again(), LOOK_MS);
    };
    void again();
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [desk, look, paused]);
  return wire;
}
