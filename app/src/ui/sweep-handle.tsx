import { type MouseEvent, type PointerEvent, type ReactNode, useEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';

import { type EdgeScroll, edgeScroll } from './edge-scroll';
import { ROW } from './tokens';
import { webStyle } from './web-only';

interface SweepHandleProps {
  /** Begins at this row. */
  readonly onBegin: () => void;
  /** Told whenever it reaches another row, by how many rows down it is. */
  readonly onReach: (rows: number) => void;
  readonly children: ReactNode;
}

/**
 * Where a drag begins that goes over rows of a list, with a finger or a mouse; near the list's edge the list goes along. A touch
 * that goes nowhere passes through it.
 */
export function SweepHandle({ onBegin, onReach, children }: SweepHandleProps) {
  const drag = useRef<{ readonly from: number; at: number; readonly list: EdgeScroll } | null>(null);
  const reached = useRef(0);
  const reach = () => {
    if (!drag.current) return;
    const { from, at, list } = drag.current;
    const rows = Math.round((at - from + list.gone()) / ROW);
    if (rows === reached.current) return;
    reached.current = rows;
    onReach(rows);
  };
  const end = () => {
    drag.current?.list.end();
    drag.current = null;
  };
  useEffect(() => end, []);
  // What a view hears of the browser that React Native's types leave out.
  const handlers: object = {
    onPointerDown: ({ clientY, pointerId, currentTarget }: PointerEvent) => {
      end();
      drag.current = { from: clientY, at: clientY, list: edgeScroll(currentTarget, clientY, reach) };
      reached.current = 0;
      currentTarget.setPointerCapture(pointerId);
      onBegin();
    },
    onPointerMove: ({ clientY }: PointerEvent) => {
      if (!drag.current) return;
      drag.current.at = clientY;
      drag.current.list.reach(clientY);
      reach();
    },
    onPointerUp: end,
    onPointerCancel: end,
    // What went over rows was no touch on the one where it began.
    onClick: (event: MouseEvent) => {
      if (reached.current !== 0) event.stopPropagation();
      reached.current = 0;
    },
  };
  return (
    <View {...handlers} style={[styles.handle, webStyle({ touchAction: 'none' })]}>
      {children}
    </View>
  );
}

const styles = StyleSheet.create({ handle: { minHeight: ROW, justifyContent: 'center' } });
