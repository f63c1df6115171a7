import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { LineChart } from 'react-native-gifted-charts';

import { sceneTitle } from '@old-echo/core/contracts/scene';
import { dbToPosition } from '@old-echo/core/desk/fader-taper';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, type SettingSpec } from '@old-echo/core/desk/setting';
import { formatValue, plural } from '@old-echo/core/phrases/format-value';
import { type HistoryPoint, settingHistory, type StripHistory } from '@old-echo/core/scenes/strip-history';

import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { NameLines } from '../ui/name-lines';
import { useLook } from '../ui/theme';
import { CORNER, FONT, SIZE, SPACE, TOUCH } from '../ui/tokens';

interface PastChartProps {
  readonly past: StripHistory;
  readonly profile: Profile;
  /** The setting's key inside its strip. */
  readonly setting: string;
  readonly name: string;
  readonly onScene: (id: string) => void;
}

/** Moments drawn at once; further back by a button. */
const WINDOW = 24;
const HEIGHT = 150;
/** Room for the number of a scene, in px. */
const NUMBER = 56;
const LABELS = 52;

/** One setting over the scenes in which it moved; a touch on the chart says which scene and goes there. */
export default function PastChart({ past, profile, setting, name, onScene }: PastChartProps) {
  const look = useLook();
  const [width, setWidth] = useState(0);
  const [back, setBack] = useState(0);
  const [touched, setTouched] = useState<string | null>(null);
  const points = settingHistory(past, setting);
  const end = points.length - back;
  const shown = points.slice(Math.max(0, end - WINDOW), end);
  const spec = specOf(profile, `${past.strip}/${setting}`);
  const at = shown.find((point) => point.id === touched) ?? shown.at(-1);
  if (!spec || !at) return null;
  const scale = scaleOf(spec, shown);
  const room = width - LABELS - 3 * SPACE.l;
  const spacing = shown.length > 1 ? room / (shown.length - 1) : 0;
  return (
    <View
      style={[styles.box, { borderColor: look.line, backgroundColor: look.card }]}
      onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
      role="group"
      aria-label={`${name}: ${shown.map(({ number, value }) => `${number} ${formatValue(spec, value)}`).join(', ')}`}
    >
      <View style={styles.head}>
        <NameLines name={`${name}: ${formatValue(spec, at.value)}`} under={`in ${sceneTitle(at)}`} />
        <Action kind="quiet" title="Open scene" onPress={() => onScene(at.id)} />
      </View>
      {width > 0 ? (
        <LineChart
          data={shown.map((point) => ({
            value: scale.place(point),
            label:
              spacing > 8 * String(at.number).length + SPACE.s || point === shown[0] || point === shown.at(-1)
                ? String(point.number)
                : '',
            dataPointRadius: point.id === at.id ? 7 : 4,
            onPress: () => setTouched(point.id),
          }))}
          width={room + SPACE.xl}
          overflowTop={SPACE.m}
          height={HEIGHT}
          spacing={spacing}
          initialSpacing={SPACE.m}
          endSpacing={SPACE.m}
          stepChart
          maxValue={scale.steps}
          noOfSections={scale.steps}
          yAxisLabelTexts={scale.labels}
          yAxisLabelWidth={LABELS}
          yAxisTextStyle={{ color: look.second, fontFamily: FONT.value, fontSize: SIZE.small - 2 }}
          // A number is as wide as it is, whatever lies between two points.
          xAxisLabelTextStyle={{
            color: look.second,
            fontFamily: FONT.value,
            fontSize: SIZE.small - 2,
            width: NUMBER,
            maxWidth: NUMBER,
            marginLeft: (spacing - NUMBER) / 2,
          }}
          yAxisColor={look.line}
          xAxisColor={look.line}
          rulesColor={look.line}
          color={look.ink}
          thickness={2}
          dataPointsColor={look.ink}
          disableScroll
          focusEnabled
          onFocus={(_: unknown, index: number) => setTouched(shown[index]?.id ?? null)}
        />
      ) : null}
      {points.length > WINDOW ? (
        <View style={styles.windows}>
          <Action
            kind="quiet"
            title="‹ Earlier"
            disabled={end <= WINDOW && 'This is where it begins.'}
            onPress={() => setBack(Math.min(points.length - WINDOW, back + WINDOW))}
          />
          <AppText kind="small" tone="second">
            {plural(points.length, 'moment')}
          </AppText>
          <Action
            kind="quiet"
            title="Later ›"
            disabled={back === 0 && 'This is where it ends.'}
            onPress={() => setBack(Math.max(0, back - WINDOW))}
          />
        </View>
      ) : null}
    </View>
  );
}

interface Scale {
  /** Sections of the axis; values are drawn between 0 and this. */
  readonly steps: number;
  readonly labels: string[];
  readonly place: (point: HistoryPoint) => number;
}

/** Levels stand as on a fader, frequencies by octaves, other numbers evenly; what is no number gets a line for each value. */
function scaleOf(spec: SettingSpec, points: readonly HistoryPoint[]): Scale {
  if (!isNumberSpec(spec)) {
    const values = [...new Set(points.map(({ value }) => formatValue(spec, value)))];
    const steps = Math.max(1, values.length - 1);
    const labels = values.length > 1 ? values : [...values, ''];
    return { steps, labels: labels.map(shorter), place: ({ value }) => values.indexOf(formatValue(spec, value)) };
  }
  const bend = (value: number) =>
    spec.kind === 'level' ? dbToPosition(value) : spec.kind === 'frequency' ? Math.log2(value) : value;
  const numbers = points.map(({ value }) => Number(value));
  const [low, high] = [Math.min(...numbers), Math.max(...numbers)];
  const room = bend(high) - bend(low) || 1;
  const steps = 4;
  const at = (step: number) => bend(low) + (room * step) / steps;
  // The value nearest to a place on the axis, found among those a desk could show.
  const valueAt = (place: number): number => {
    let [from, to] = [low, high];
    for (let i = 0; i < 40; i++) {
      const middle = (from + to) / 2;
      if (bend(middle) < place) from = middle;
      else to = middle;
    }
    return to;
  };
  const decimals = high - low < 100 ? 1 : 0;
  const label = (step: number) => {
    const value = step === 0 ? low : valueAt(at(step));
    return formatValue({ ...spec, step: 10 ** -decimals }, Number(value.toFixed(decimals)), false);
  };
  return {
    steps,
    labels: low === high ? [label(0), '', '', '', ''] : Array.from({ length: steps + 1 }, (_, step) => label(step)),
    place: ({ value }) => (low === high ? 0 : ((bend(Number(value)) - bend(low)) / room) * steps),
  };
}

const shorter = (text: string): string => (text.length > 7 ? `${text.slice(0, 6)}…` : text);

const styles = StyleSheet.create({
  box: { borderWidth: 1, borderRadius: CORNER.large, padding: SPACE.s, overflow: 'hidden' },
  head: { flexDirection: 'row', alignItems: 'center', minHeight: TOUCH, paddingLeft: SPACE.xs },
  windows: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between' },
});
