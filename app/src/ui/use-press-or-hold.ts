import { useRef } from 'react';
import type { GestureResponderEvent } from 'react-native';

import { webProps } from './web-only';

/** After how long a press is a hold, in ms. */
const HOLD_MS = 500;

interface PressOrHold {
  readonly onPress: (event: GestureResponderEvent) => void;
  readonly onHold: (() => void) | undefined;
}

/**
 * A press or a hold, by how long the finger was down. The page's own timer for a hold begins when the page comes to
 * the touch: on a page that is busy then, the finger would be up before it ends, and the hold would count as a press.
 */
export function usePressOrHold({ onPress, onHold }: PressOrHold) {
  const downAt = useRef(0);
  return {
    // Told of the touch itself; after the delay that is usual, it may be told of where it ended.
    ...webProps({ delayPressIn: 0 }),
    onPressIn: ({ nativeEvent }: GestureResponderEvent) => {
      downAt.current = nativeEvent.timestamp;
    },
    onPress: (event: GestureResponderEvent) => {
      if (onHold && heldFor(event.nativeEvent, downAt.current) >= HOLD_MS) onHold();
      else onPress(event);
    },
    onLongPress: onHold,
    delayLongPress: HOLD_MS,
  };
}

/** For how long a pointer was down before it clicked, in ms; 0 for keys and screen readers, whose clicks count none. */
function heldFor(event: object, downAt: number): number {
  const { timeStamp, detail } = event as Partial<MouseEvent>;
  return timeStamp === undefined || detail === 0 ? 0 : timeStamp - downAt;
}
