import { memo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line } from 'react-native-svg';

import { useLook } from '../../ui/theme';
import { TOUCH } from '../../ui/tokens';

interface WaveformProps {
  /** Levels, 0 … 1, in equal parts of the sound. */
  readonly overview: readonly number[];
  /** Where it is, 0 … 1. */
  readonly place: number;
  /** The part that repeats, 0 … 1. */
  readonly range: readonly [from: number, to: number] | null;
  readonly colour: string;
  readonly seconds: number;
  readonly onSeek: (place: number) => void;
}

/** Pixels from one bar to the next. */
const STEP = 4;

/** A sound over time; a touch goes there. */
export const Waveform = memo(function Waveform({ overview, place, range, colour, seconds, onSeek }: WaveformProps) {
  const look = useLook();
  const [width, setWidth] = useState(0);
  const bars = Math.floor(width / STEP);
  const at = (event: { nativeEvent: { offsetX?: number } }) => {
    if (event.nativeEvent.offsetX !== undefined && width > 0) onSeek(event.nativeEvent.offsetX / width);
  };
  return (
    <View
      role="slider"
      tabIndex={0}
      aria-label="Place in the song"
      aria-valuemin={0}
      aria-valuemax={Math.round(seconds)}
      aria-valuenow={Math.round(place * seconds)}
      style={styles.box}
      onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
      {...{ onPointerUp: at }}
    >
      {range ? (
        <View
          pointerEvents="none"
          style={[
            styles.range,
            { left: range[0] * width, width: (range[1] - range[0]) * width, backgroundColor: look.line },
          ]}
        />
      ) : null}
      {bars > 0 ? (
        <Svg width={width} height={TOUCH} pointerEvents="none">
          {Array.from({ length: bars }, (_, i) => {
            const part = overview.slice(
              Math.floor((i * overview.length) / bars),
              Math.max(1, Math.floor(((i + 1) * overview.length) / bars)),
            );
            const height = Math.max(2, Math.sqrt(Math.max(0, ...part)) * TOUCH);
            return (
              <Line
                key={i}
                x1={i * STEP + 1.5}
                x2={i * STEP + 1.5}
                y1={(TOUCH - height) / 2}
                y2={(TOUCH + height) / 2}
                strokeWidth={STEP - 1.5}
                strokeLinecap="round"
                stroke={i / bars < place ? colour : look.echo}
              />
            );
          })}
        </Svg>
      ) : null}
    </View>
  );
});

const styles = StyleSheet.create({
  box: { flex: 1, minWidth: 60, height: TOUCH, overflow: 'hidden' },
  range: { position: 'absolute', top: 0, bottom: 0 },
});
