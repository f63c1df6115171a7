import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Line, Path, Text as SvgText } from 'react-native-svg';

import { audibleFrequencies, eqCurve } from '@old-echo/core/compare/eq-curve';
import type { StripState } from '@old-echo/core/desk/state';

import { useLook } from '../../ui/theme';
import { CORNER, FONT, SIZE } from '../../ui/tokens';

const HEIGHT = 132;
/** dB at the upper and lower edge. */
const EDGE = 18;
const POINTS = audibleFrequencies(121);
const GRID = [
  [100, '100 Hz'],
  [1000, '1 kHz'],
  [10_000, '10 kHz'],
] as const;

/** What the EQ and the low cut do, 20 Hz to 20 kHz: dashed as it was in the scene, solid as it is. */
export function EqPicture({ now, was }: { readonly now: StripState; readonly was: StripState | undefined }) {
  const look = useLook();
  const [width, setWidth] = useState(0);
  const x = (hertz: number) => (Math.log10(hertz / 20) / 3) * width;
  const y = (decibels: number) => HEIGHT / 2 - (decibels / EDGE) * (HEIGHT / 2 - 4);
  const path = (curve: readonly number[]) =>
    curve.map((dB, i) => `${i ? 'L' : 'M'}${x(POINTS[i] ?? 20).toFixed(1)} ${y(dB).toFixed(1)}`).join('');
  const curve = eqCurve(now, POINTS);
  const echo = was ? eqCurve(was, POINTS) : curve;
  const moved = curve.some((dB, i) => Math.abs(dB - (echo[i] ?? dB)) > 0.05);
  return (
    <View
      role="img"
      aria-label={moved ? 'EQ curve; it differs from the scene' : 'EQ curve'}
      onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
      style={[styles.box, { borderColor: look.line, backgroundColor: look.paper }]}
    >
      {width > 0 ? (
        <Svg width={width} height={HEIGHT}>
          {[-12, -6, 0, 6, 12].map((dB) => (
            <Line key={dB} x1={0} x2={width} y1={y(dB)} y2={y(dB)} stroke={look.line} strokeWidth={dB === 0 ? 2 : 1} />
          ))}
          {GRID.map(([hertz, name]) => (
            <SvgText
              key={name}
              transform={`translate(${x(hertz) + (hertz < 10_000 ? 4 : -4)} ${HEIGHT - 6})`}
              textAnchor={hertz < 10_000 ? 'start' : 'end'}
              fontSize={SIZE.small - 2}
              fontFamily={FONT.value}
              fill={look.second}
            >
              {name}
            </SvgText>
          ))}
          {GRID.map(([hertz]) => (
            <Line key={hertz} x1={x(hertz)} x2={x(hertz)} y1={0} y2={HEIGHT} stroke={look.line} />
          ))}
          {moved ? <Path d={path(echo)} stroke={look.echo} strokeWidth={2} strokeDasharray="5 4" fill="none" /> : null}
          <Path d={path(curve)} stroke={look.ink} strokeWidth={2} fill="none" />
        </Svg>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  box: { height: HEIGHT, borderWidth: 1, borderRadius: CORNER.small, overflow: 'hidden' },
});
