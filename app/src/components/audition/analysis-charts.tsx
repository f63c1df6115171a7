import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { BarChart } from 'react-native-gifted-charts';

import { RENDER_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import type { RenderView } from '@old-echo/core/contracts/sound';
import { thirdOctaves } from '@old-echo/core/signal/third-octaves';
import type { RenderAnalysis } from '@old-echo/core/sound/analyse-render';

import { useAnalysisQuery } from '../../store/sound-api';
import { AppText } from '../../ui/app-text';
import { Action } from '../../ui/buttons';
import { chartAxes } from '../../ui/chart-axes';
import { CurvePair, type Point } from '../../ui/curve-chart';
import { useLook } from '../../ui/theme';
import { FONT, SIZE, SPACE } from '../../ui/tokens';
import { BlindResults } from './blind-test-results';
import { BounceButtons } from './bounce-buttons';
import { LoudnessTargetCard } from './loudness-target-card';
import { SendMixesSheet } from './send-mixes-sheet';
import type { Audition } from './use-audition';

interface SoundChartsProps {
  readonly a: RenderView;
  readonly b: RenderView;
  /** What each is called, for files. */
  readonly names: { readonly a: string; readonly b: string };
  readonly audition: Audition;
}

const number = (value: number | null | undefined, unit: string): string =>
  value == null ? '–' : `${value < 0 ? '−' : ''}${Math.abs(value).toFixed(1)} ${unit}`;

/** What was measured of A and B, side by side. */
export default function SoundCharts({ a, b, names, audition }: SoundChartsProps) {
  const look = useLook();
  const [sending, setSending] = useState(false);
  const [left, right] = [a.measured, b.measured];
  const { data: one, isError: withoutA } = useAnalysisQuery(a.id);
  const { data: other, isError: withoutB } = useAnalysisQuery(b.id);
  if (!left || !right) return null;
  const waiting = (
    <AppText tone="second">{withoutA || withoutB ? 'Analysis failed. Listen to both again.' : 'Analysing …'}</AppText>
  );
  const rows: readonly (readonly [string, string, string])[] = [
    ['Integrated loudness', number(left.loudness.integrated, 'LUFS'), number(right.loudness.integrated, 'LUFS')],
    ['Loudness range', number(left.loudness.range, 'LU'), number(right.loudness.range, 'LU')],
    ['Momentary max', number(left.loudness.momentaryMax, 'LUFS'), number(right.loudness.momentaryMax, 'LUFS')],
    ['True peak', number(left.loudness.truePeak, 'dBTP'), number(right.loudness.truePeak, 'dBTP')],
  ];
  const colours = { was: look.a, now: look.b };
  return (
    <View style={styles.charts} testID="sound-charts">
      {rows.map(([name, ofA, ofB]) => (
        <View key={name} style={styles.row}>
          <AppText style={styles.fill}>{name}</AppText>
          <AppText kind="value" tone="a">
            {ofA}
          </AppText>
          <AppText kind="value" tone="b" style={styles.value}>
            {ofB}
          </AppText>
        </View>
      ))}
      <LoudnessTargetCard a={left.loudness} b={right.loudness} />
      <AppText kind="heading">B relative to A, third-octave</AppText>
      {one && other ? <Spectrum a={one} b={other} /> : waiting}
      <AppText kind="heading">Loudness over time, LUFS</AppText>
      <CurvePair
        name="Short-term loudness over time"
        was={overTime(left.loudness.shortTerm, (lufs) => (lufs + 60) / 60)}
        now={overTime(right.loudness.shortTerm, (lufs) => (lufs + 60) / 60)}
        across={{ marks: marksOf(left.seconds) }}
        up={{ marks: [-45, -30, -15].map((lufs) => [(lufs + 60) / 60, `−${-lufs}`]) }}
        colours={colours}
      />
      <AppText kind="heading">Stereo correlation</AppText>
      {one && other ? (
        <CurvePair
          name="Stereo correlation over time, from −1 to +1"
          was={overTime(one.correlation, (alike) => (alike + 1) / 2)}
          now={overTime(other.correlation, (alike) => (alike + 1) / 2)}
          across={{ marks: marksOf(left.seconds) }}
          up={{ marks: [[0.5, '0']] }}
          colours={colours}
          height={96}
        />
      ) : (
        waiting
      )}
      <BlindResults audition={audition} />
      <View style={styles.row}>
        <AppText kind="heading" style={styles.fill}>
          Export
        </AppText>
        <Action asks={RENDER_ROUTES.rendersArchive} title="Send both …" onPress={() => setSending(true)} />
      </View>
      {sending ? (
        <SendMixesSheet audition={audition} views={[a, b]} names={names} onClose={() => setSending(false)} />
      ) : null}
      <BounceButtons letter="A" view={a} name={names.a} audition={audition} side={audition.a} />
      <BounceButtons letter="B" view={b} name={names.b} audition={audition} side={audition.b} />
      <AppText kind="small" tone="second">
        Rendered from the stems through a desk model: for comparing mixes, not a copy of your desk.
      </AppText>
    </View>
  );
}

const marksOf = (seconds: number): (readonly [number, string])[] =>
  [0.25, 0.5, 0.75].map((at) => [at, `${Math.round(at * seconds)} s`] as const);

const overTime = (values: readonly (number | null)[], place: (value: number) => number): Point[] =>
  values.map((value, i): Point => [
    i / Math.max(1, values.length - 1),
    Math.min(1, Math.max(0, place(value !== null && Number.isFinite(value) ? value : -100))),
  ]);

/** dB at the edge of the chart. */
const EDGE = 6;
/** Pixels left of the bars, and those that the name of a frequency takes. */
const [LEFT, NAME] = [32, 40];
const NAMED = [
  [100, '100'],
  [1000, '1k'],
  [10_000, '10k'],
] as const;

function Spectrum({ a, b }: { readonly a: RenderAnalysis; readonly b: RenderAnalysis }) {
  const look = useLook();
  const [width, setWidth] = useState(0);
  const bands = thirdOctaves().map((hertz, i) => {
    const [one, other] = [a.spectrum[i] ?? null, b.spectrum[i] ?? null];
    const by = one === null || other === null ? 0 : other - one;
    return { hertz, by: Math.max(-EDGE, Math.min(EDGE, by)) };
  });
  const step = (width - 40) / bands.length;
  const said = bands
    .filter(({ by }) => Math.abs(by) >= 0.5)
    .map(({ hertz, by }) => `${Math.round(hertz)} Hz ${by.toFixed(1).replace('-', '−')} dB`)
    .join(', ');
  return (
    <View
      onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
      role="img"
      aria-label={`B relative to A by frequency: ${said || 'no band differs by half a dB'}`}
    >
      {width > 0 ? (
        <BarChart
          data={bands.map(({ by }) => ({
            value: by,
            frontColor: by >= 0 ? look.b : look.a,
          }))}
          width={width - 36}
          height={70}
          barWidth={Math.max(2, step * 0.7)}
          spacing={step * 0.3}
          initialSpacing={2}
          maxValue={EDGE}
          mostNegativeValue={-EDGE}
          noOfSections={2}
          noOfSectionsBelowXAxis={2}
          stepValue={EDGE / 2}
          yAxisLabelWidth={LEFT - 2}
          yAxisLabelTexts={['−6', '−3', '0', '+3', '+6']}
          xAxisLabelsHeight={0}
          {...chartAxes(look)}
        />
      ) : null}
      <View style={styles.hertz}>
        {NAMED.map(([hertz, text]) => {
          const at = bands.findIndex((band) => Math.round(band.hertz) === hertz);
          return (
            <AppText key={text} tone="second" style={[styles.named, { left: LEFT + (at + 0.4) * step - NAME / 2 }]}>
              {text}
            </AppText>
          );
        })}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  charts: { gap: SPACE.s },
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.s, minHeight: 28 },
  fill: { flex: 1 },
  value: { width: 96, textAlign: 'right' },
  hertz: { height: 16 },
  named: { position: 'absolute', width: NAME, textAlign: 'center', fontFamily: FONT.value, fontSize: SIZE.small - 2 },
});
