import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { BarChart } from 'react-native-gifted-charts';

import type { OutputDifference } from '@old-echo/core/compare/compare';
import type { Profile } from '@old-echo/core/desk/profile';
import { displayName, type State } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { chartAxes } from '../ui/chart-axes';
import { Empty } from '../ui/layout';
import { useLook } from '../ui/theme';
import { FONT, SIZE, SPACE } from '../ui/tokens';

interface OutputsChartProps {
  readonly profile: Profile;
  readonly names: State;
  readonly outputs: readonly OutputDifference[];
}

/** dB at the foot and the top of the chart. */
const FOOT = -40;
const TOP = 30;
const STEP = 10;
const MOST = 12;
const LABELS = 40;

const above = (decibels: number): number => Math.max(0, Math.min(TOP, decibels) - FOOT);
const said = (decibels: number): string =>
  decibels === -Infinity ? '−∞ dB' : `${decibels < 0 ? '−' : '+'}${Math.abs(decibels).toFixed(1)} dB`;

/** The gain of all paths to each output, A beside B; under it what moves most. */
export default function OutputsChart({ profile, names, outputs }: OutputsChartProps) {
  const look = useLook();
  const [width, setWidth] = useState(0);
  if (outputs.length === 0) return <Empty title="Outputs match">No path changes by 0.5 dB or more.</Empty>;
  const shown = outputs.slice(0, MOST);
  const name = (strip: string) => displayName(profile, names, strip);
  const bar = Math.max(6, Math.min(28, (width - LABELS) / shown.length / 3));
  const gap = Math.max(6, (width - LABELS - SPACE.xl) / shown.length - 2 * bar - 2);
  return (
    <View onLayout={(event) => setWidth(event.nativeEvent.layout.width)} testID="outputs">
      <AppText kind="small" tone="second">
        Summed path gain per output, dB. Left A, right B.
      </AppText>
      {width > 0 ? (
        <View aria-hidden>
          <BarChart
            data={shown.flatMap(({ output, a, b }) => [
              { value: above(a), frontColor: look.a, spacing: 2, label: name(output), labelWidth: 2 * bar + 2 },
              { value: above(b), frontColor: look.b, spacing: gap },
            ])}
            width={width - LABELS - SPACE.xs}
            height={140}
            barWidth={bar}
            initialSpacing={SPACE.s}
            maxValue={TOP - FOOT}
            noOfSections={(TOP - FOOT) / STEP}
            yAxisLabelTexts={Array.from({ length: (TOP - FOOT) / STEP + 1 }, (_, i) =>
              String(FOOT + i * STEP).replace('-', '−'),
            )}
            yAxisLabelWidth={LABELS - SPACE.s}
            xAxisLabelTextStyle={{ color: look.second, fontFamily: FONT.text, fontSize: SIZE.small - 2 }}
            {...chartAxes(look)}
          />
        </View>
      ) : null}
      {shown.map(({ output, a, b, source }) => (
        <View key={output} style={styles.row}>
          <AppText kind="strong" style={styles.fill} numberOfLines={1}>
            {name(output)}
            <AppText kind="small" tone="second">
              {'  '}mainly {name(source)}
            </AppText>
          </AppText>
          <AppText kind="value" tone="a">
            {said(a)}
          </AppText>
          <AppText kind="value" tone="b" style={styles.value}>
            {said(b)}
          </AppText>
        </View>
      ))}
      {outputs.length > MOST ? (
        <AppText kind="small" tone="second">
          {plural(outputs.length - MOST, 'output')} more, moving less.
        </AppText>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', minHeight: 28, gap: SPACE.s },
  fill: { flex: 1, minWidth: 0 },
  value: { width: 72, textAlign: 'right' },
});
