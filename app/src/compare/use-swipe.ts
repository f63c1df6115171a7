import { useRef } from 'react';

/** How far a finger goes to the side before it is a swipe, in pixels. */
const SWIPE = 60;

/** What a view needs to notice a swipe to either side. */
export function useSwipe(onLeft: () => void, onRight: () => void): object {
  const start = useRef<{ x: number; y: number } | null>(null);
  return {
    onTouchStart: ({ nativeEvent }: Touch) => (start.current = { x: nativeEvent.pageX, y: nativeEvent.pageY }),
    onTouchEnd: ({ nativeEvent }: Touch) => {
      if (!start.current) return;
      const [x, y] = [nativeEvent.pageX - start.current.x, nativeEvent.pageY - start.current.y];
      start.current = null;
      if (Math.abs(x) < SWIPE || Math.abs(y) > Math.abs(x) / 2) return;
      if (x < 0) onLeft();
      else onRight();
    },
  };
}

interface Touch {
  readonly nativeEvent: { readonly pageX: number; readonly pageY: number };
}
