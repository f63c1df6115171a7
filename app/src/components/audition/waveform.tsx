import { memo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';

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
  const drawn = barsOf(overview, Math.floor(width / STEP));
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
      {drawn ? (
        <>
          <Bars drawn={drawn} width={width} colour={look.echo} />
          <View pointerEvents="none" style={[styles.played, { width: place * width }]}>
            <Bars drawn={drawn} width={width} colour={colour} />
          </View>
        </>
      ) : null}
    </View>
  );
});

/** Bars of an overview as the strokes of one path. */
const barsOf = (overview: readonly number[], bars: number): string =>
  Array.from({ length: bars }, (_, i) => {
    const part = overview.slice(
      Math.floor((i * overview.length) / bars),
      Math.max(1, Math.floor(((i + 1) * overview.length) / bars)),
    );
    const height = Math.max(2, Math.sqrt(Math.max(0, ...part)) * TOUCH);
    return `M${i * STEP + 1.5} ${((TOUCH - height) / 2).toFixed(1)}v${height.toFixed(1)}`;
  }).join('');

interface BarsProps {
  readonly drawn: string;
  readonly width: number;
  readonly colour: string;
}

const Bars = memo(function Bars({ drawn, width, colour }: BarsProps) {
  return (
    <Svg width={width} height={TOUCH} pointerEvents="none">
      <Path d={drawn} stroke={colour} strokeWidth={STEP - 1.5} strokeLinecap="round" />
    </Svg>
  );
});

const styles = StyleSheet.create({
  box: { flex: 1, minWidth: 60, height: TOUCH, overflow: 'hidden' },
  range: { position: 'absolute', top: 0, bottom: 0 },
  played: { position: 'absolute', left: 0, top: 0, bottom: 0, overflow: 'hidden' },
});
