import { useRef } from 'react';

/** How far a finger goes to the side before it is a swipe, in pixels. */
const SWIPE = 60;

interface Finger {
  readonly pageX: number;
  readonly pageY: number;
}

/** A touch as the browser tells it: where fingers are is in its list, not in the event. */
interface Touch {
  readonly nativeEvent: { readonly changedTouches: ArrayLike<Finger> };
}

/** What a view needs to notice a swipe of one finger to either side. */
export function useSwipe(onLeft: () => void, onRight: () => void): object {
  const start = useRef<Finger | null>(null);
  return {
    onTouchStart: ({ nativeEvent: { changedTouches } }: Touch) => {
      start.current = changedTouches.length === 1 ? (changedTouches[0] ?? null) : null;
    },
    onTouchEnd: ({ nativeEvent: { changedTouches } }: Touch) => {
      const [from, to] = [start.current, changedTouches[0]];
      start.current = null;
      if (!from || !to) return;
      const [x, y] = [to.pageX - from.pageX, to.pageY - from.pageY];
      if (Math.abs(x) < SWIPE || Math.abs(y) > Math.abs(x) / 2) return;
      if (x < 0) onLeft();
      else onRight();
    },
    onTouchCancel: () => {
      start.current = null;
    },
  };
}
