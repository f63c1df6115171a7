import { memo, useRef, useState } from 'react';
import { type PointerEvent, StyleSheet, View } from 'react-native';
import Svg, { Polygon } from 'react-native-svg';

import { dbToPosition, FADER_MARKS_DB, positionToValue, valueToPosition } from '@old-echo/core/desk/fader-taper';
import { type NumberSpec, quantise } from '@old-echo/core/desk/setting';
import { formatValue } from '@old-echo/core/phrases/format-value';

import { stepValue } from './step-value';
import { useLook } from './theme';
import { TOUCH } from './tokens';
import { elementOf, webStyle } from './web-only';

const DOT = 18;
const FADER_MARKS = FADER_MARKS_DB.map(dbToPosition);

interface ValueLineProps {
  readonly spec: NumberSpec;
  readonly value: number;
  /** Where it was. */
  readonly echo?: number | undefined;
  readonly muted?: boolean;
  readonly name: string;
  /** Called while the dot is dragged, and once more with `done` when it is let go. Without it the line only shows. */
  readonly onMove?: ((value: number, done: boolean) => void) | undefined;
  /** Whether the keyboard can reach and move it. */
  readonly focusable?: boolean;
}

/** A value on its line: the echo where it was, the solid dot where it is, a wedge between. Only the dot can be taken. */
export const ValueSlider = memo(function ValueLine(props: ValueLineProps) {
  const { spec, value, echo, muted, name, onMove, focusable } = props;
  const look = useLook();
  const track = useRef<View>(null);
  const grip = useRef<{ x: number; width: number; place: number; start: number } | null>(null);
  const dragged = useRef(false);
  const [held, setHeld] = useState<number | null>(null);
  const shown = held ?? value;
  const place = valueToPosition(spec, shown);
  const was = echo === undefined || echo === shown ? undefined : valueToPosition(spec, echo);
  const marks =
    spec.kind === 'level' ? FADER_MARKS : spec.min < 0 && spec.max > 0 ? [0, valueToPosition(spec, 0), 1] : [0, 1];

  const move = (to: number, done: boolean) => {
    const next = quantise(spec, to);
    setHeld(done ? null : next);
    onMove?.(next, done);
  };
  const letGo = () => {
    if (grip.current && held !== null) move(held, true);
    grip.current = null;
  };
  const pointer = {
    onPointerDown: (event: PointerEvent) => {
      const line = elementOf(track.current);
      if (!line) return;
      grip.current = { x: event.nativeEvent.clientX, width: line.clientWidth, place, start: value };
      dragged.current = false;
      elementOf(event.currentTarget)?.setPointerCapture(event.nativeEvent.pointerId);
    },
    onPointerMove: (event: PointerEvent) => {
      const { current } = grip;
      if (!current) return;
      const { clientX } = event.nativeEvent;
      if (!dragged.current) {
        dragged.current = Math.abs(clientX - current.x) > SLIP;
        // From here on, so that the value does not jump by what the finger slipped.
        if (dragged.current) current.x = clientX;
      } else if (onMove) move(positionToValue(spec, current.place + (clientX - current.x) / current.width), false);
    },
    // What takes the dot does not hold the strip as well, however long it rests there.
    onStartShouldSetResponder: () => true,
    onPointerUp: letGo,
    // The browser took the finger for a scroll after all: as if the dot had never been touched.
    onPointerCancel: () => {
      if (grip.current && held !== null) move(grip.current.start, true);
      grip.current = null;
    },
    // A drag must not open the strip as well, even while nothing can be moved; a mere tap on the dot may.
    onClick: (event: { stopPropagation: () => void }) => {
      if (dragged.current) event.stopPropagation();
      dragged.current = false;
    },
  };
  const keys = {
    onKeyDown: (event: { key: string; shiftKey: boolean; preventDefault: () => void }) => {
      const way = KEYS[event.key];
      if (way === undefined || !onMove) return;
      event.preventDefault();
      move(stepValue(spec, value, way, event.shiftKey), true);
    },
  };
  const slider = {
    role: 'slider' as const,
    tabIndex: focusable && onMove ? (0 as const) : (-1 as const),
    'aria-label': name,
    'aria-valuemin': spec.min,
    'aria-valuemax': spec.max,
    'aria-valuenow': shown,
    'aria-valuetext': formatValue(spec, shown),
  };

  return (
    <View ref={track} style={styles.track}>
      <View style={[styles.rail, { backgroundColor: look.line }]} />
      {marks.map((mark) => (
        <View
          key={mark}
          style={[
            styles.mark,
            { left: `${mark * 100}%`, backgroundColor: look.line },
            spec.kind === 'level' && mark === ZERO && styles.zero,
          ]}
        />
      ))}
      {was === undefined ? null : (
        <>
          <Svg
            style={StyleSheet.absoluteFill}
            viewBox="0 0 1000 44"
            preserveAspectRatio="none"
            width="100%"
            height="100%"
            aria-hidden
          >
            <Polygon points={`${was * 1000},22 ${place * 1000},17 ${place * 1000},27`} fill={look.echo} opacity={0.7} />
          </Svg>
          <View
            style={[
              styles.dot,
              styles.echo,
              { left: `${was * 100}%`, borderColor: look.echo, backgroundColor: look.paper },
            ]}
          />
        </>
      )}
      <View {...slider} {...keys} {...pointer} style={[styles.grip, { left: `${place * 100}%` }, onMove ? GRAB : null]}>
        <View
          style={[
            styles.dot,
            styles.centre,
            muted
              ? { borderColor: look.ink, borderWidth: 2, backgroundColor: look.paper }
              : { backgroundColor: look.ink },
          ]}
        >
          {muted ? <View style={[styles.strike, { backgroundColor: look.ink }]} /> : null}
        </View>
      </View>
    </View>
  );
});

/** How far a finger may slip before a tap becomes a drag, in pixels. */
const SLIP = 5;
const ZERO = dbToPosition(0);
/** A thumb on the dot moves it sideways; up and down it scrolls the page, wherever it begins. */
const GRAB = webStyle({ touchAction: 'pan-y', cursor: 'grab' });

const KEYS: Readonly<Record<string, number>> = {
  ArrowRight: 1,
  ArrowUp: 1,
  ArrowLeft: -1,
  ArrowDown: -1,
  PageUp: 10,
  PageDown: -10,
};

const styles = StyleSheet.create({
  track: { height: TOUCH, justifyContent: 'center', marginHorizontal: DOT / 2 },
  rail: { height: 2, borderRadius: 1 },
  mark: { position: 'absolute', width: 2, height: 6, marginLeft: -1, top: (TOUCH - 6) / 2 },
  zero: { height: 14, top: (TOUCH - 14) / 2 },
  dot: { width: DOT, height: DOT, borderRadius: DOT / 2 },
  echo: { position: 'absolute', marginLeft: -DOT / 2, top: (TOUCH - DOT) / 2, borderWidth: 2, borderStyle: 'dashed' },
  grip: {
    position: 'absolute',
    width: TOUCH,
    height: TOUCH,
    marginLeft: -TOUCH / 2,
    alignItems: 'center',
    justifyContent: 'center',
  },
  centre: { alignItems: 'center', justifyContent: 'center', overflow: 'hidden' },
  strike: { width: DOT, height: 2, transform: [{ rotate: '-45deg' }] },
});
