import type { LiveMessage } from '@old-echo/core/contracts/live';
import type { Value } from '@old-echo/core/desk/setting';

/** How long moves are gathered before the page draws them, in ms: two frames. */
const GATHER_MS = 33;

export interface Gathered {
  readonly hear: (message: LiveMessage) => void;
  /** Hands on what is gathered so far. */
  readonly flush: () => void;
  /** Forgets it. */
  readonly drop: () => void;
}

/**
 * Gathers moves of a desk: a restore is told in dozens of messages, and a page that draws each of them falls behind. The first
 * after a pause goes on at once, so that a hand that moves sees no delay; everything else goes on in its order.
 */
export function gatherMoves(tell: (message: LiveMessage) => void): Gathered {
  let waiting: Record<string, Value> | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const flush = () => {
    const settings = waiting;
    waiting = undefined;
    if (settings) tell({ type: 'settings-changed', settings });
  };
  const wait = () => {
    timer = setTimeout(() => {
      timer = undefined;
      if (!waiting) return;
      flush();
      wait();
    }, GATHER_MS);
  };
  return {
    hear: (message) => {
      if (message.type !== 'settings-changed') {
        flush();
        tell(message);
      } else if (timer === undefined) {
        tell(message);
        wait();
      } else waiting = { ...waiting, ...message.settings };
    },
    flush,
    drop: () => {
      clearTimeout(timer);
      [waiting, timer] = [undefined, undefined];
    },
  };
}
