import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line, Path, Text as SvgText } from 'react-native-svg';

import { useLook } from './theme';
import { CORNER, FONT, SIZE } from './tokens';

interface Axis {
  /** Places of grid lines, 0 … 1, with what stands at them. */
  readonly marks: readonly (readonly [place: number, name: string])[];
}

interface CurvePairProps {
  /** What the picture says, for those who do not see it. */
  readonly name: string;
  /** Points as places, 0 … 1 from the left and from the bottom: the echo dashed, what is solid. */
  readonly was: readonly Point[] | undefined;
  readonly now: readonly Point[];
  readonly across: Axis;
  readonly up: Axis;
  readonly colours?: { readonly was: string; readonly now: string };
  readonly height?: number;
}

export type Point = readonly [across: number, up: number];

const HEIGHT = 132;
/** What stands at the line on which nothing is more or less. */
const ZERO = '0';
/** Kept free at the upper and lower edge, in pixels. */
const EDGE = 4;

/** Two curves on one grid: the echo dashed, the other solid over it. */
export function CurvePair({ name, was, now, across, up, colours, height = HEIGHT }: CurvePairProps) {
  const look = useLook();
  const [width, setWidth] = useState(0);
  const y = (place: number) => height - EDGE - place * (height - 2 * EDGE);
  const path = (points: readonly Point[]) =>
    points.map(([x, at], i) => `${i ? 'L' : 'M'}${(x * width).toFixed(1)} ${y(at).toFixed(1)}`).join('');
  const words = { fontSize: SIZE.small - 2, fontFamily: FONT.value, fill: look.second };
  return (
    <View
      role="img"
      aria-label={name}
      onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
      style={[styles.box, { height, borderColor: look.line, backgroundColor: look.paper }]}
    >
      {width > 0 ? (
        <Svg width={width} height={height}>
          {up.marks.map(([place, text]) => (
            <Line
              key={place}
              x1={0}
              x2={width}
              y1={y(place)}
              y2={y(place)}
              stroke={look.line}
              strokeWidth={text === ZERO ? 2 : 1}
            />
          ))}
          {up.marks.map(([place, text]) =>
            text ? (
              <SvgText key={text} {...words} transform={`translate(4 ${y(place) - 3})`}>
                {text}
              </SvgText>
            ) : null,
          )}
          {across.marks.map(([place]) => (
            <Line key={place} x1={place * width} x2={place * width} y1={0} y2={height} stroke={look.line} />
          ))}
          {across.marks.map(([place, text]) => (
            <SvgText
              key={text}
              {...words}
              transform={`translate(${place * width + (place < 0.8 ? 4 : -4)} ${height - 6})`}
              textAnchor={place < 0.8 ? 'start' : 'end'}
            >
              {text}
            </SvgText>
          ))}
          {was ? (
            <Path d={path(was)} stroke={colours?.was ?? look.echo} strokeWidth={2} strokeDasharray="5 4" fill="none" />
          ) : null}
          <Path d={path(now)} stroke={colours?.now ?? look.ink} strokeWidth={2} fill="none" />
        </Svg>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  box: { borderWidth: 1, borderRadius: CORNER.small, overflow: 'hidden' },
});
