import { type MouseEvent, type PointerEvent, type ReactNode, useRef } from 'react';
import { StyleSheet, View } from 'react-native';

import { ROW } from './tokens';
import { webStyle } from './web-only';

interface SweepHandleProps {
  /** Begins at this row. */
  readonly onBegin: () => void;
  /** Told whenever it reaches another row, by how many rows down it is. */
  readonly onReach: (rows: number) => void;
  readonly children: ReactNode;
}

/** Where a drag begins that goes over rows of a list, with a finger or a mouse. A touch that goes nowhere passes through it. */
export function SweepHandle({ onBegin, onReach, children }: SweepHandleProps) {
  const from = useRef<number | null>(null);
  const reached = useRef(0);
  // What a view hears of the browser that React Native's types leave out.
  const handlers: object = {
    onPointerDown: ({ clientY, pointerId, currentTarget }: PointerEvent) => {
      from.current = clientY;
      reached.current = 0;
      currentTarget.setPointerCapture(pointerId);
      onBegin();
    },
    onPointerMove: ({ clientY }: PointerEvent) => {
      if (from.current === null) return;
      const rows = Math.round((clientY - from.current) / ROW);
      if (rows === reached.current) return;
      reached.current = rows;
      onReach(rows);
    },
    onPointerUp: () => (from.current = null),
    onPointerCancel: () => (from.current = null),
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
