import { useRef } from 'react';
import type { GestureResponderEvent } from 'react-native';

import { webProps } from './web-only';

/** After how long a press is a hold, in ms. */
const HOLD_MS = 500;
/** How long after a finger was up its click comes at the latest, in ms. */
const SAME_MS = 200;

interface PressOrHold {
  readonly onPress: (event: GestureResponderEvent) => void;
  readonly onHold: (() => void) | undefined;
}

/**
 * A press or a hold, by how long the finger was down. The page's own timer for a hold begins when the page comes to
 * the touch: on a page that is busy then, the finger would be up before it ends, and the hold would count as a press.
 */
export function usePressOrHold({ onPress, onHold }: PressOrHold) {
  const down = useRef(Number.NaN);
  const up = useRef(Number.NaN);
  return {
    // Told of the touch itself; after the delay that is usual, it may be told of where it ended.
    ...webProps({ delayPressIn: 0 }),
    onPressIn: ({ nativeEvent }: GestureResponderEvent) => {
      down.current = nativeEvent.timestamp;
    },
    onPressOut: ({ nativeEvent }: GestureResponderEvent) => {
      up.current = nativeEvent.timestamp;
    },
    onPress: (event: GestureResponderEvent) => {
      // The click of a key, of a screen reader, or on something inside that took the finger for itself, is none of this one.
      const own = clickedAt(event.nativeEvent) - up.current < SAME_MS;
      if (onHold && own && up.current - down.current >= HOLD_MS) onHold();
      else onPress(event);
    },
    onLongPress: onHold,
    delayLongPress: HOLD_MS,
  };
}

/** When the browser saw a click, in ms. */
const clickedAt = (event: object): number => (event as Partial<MouseEvent>).timeStamp ?? Number.NaN;
