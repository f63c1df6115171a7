import { StyleSheet, View } from 'react-native';

import type { CellDifference } from '@old-echo/core/compare/compare';
import type { SettingChange } from '@old-echo/core/desk/diff-states';
import { dbToPosition } from '@old-echo/core/desk/fader-taper';
import { type Profile, specOf } from '@old-echo/core/desk/profile';
import type { State } from '@old-echo/core/desk/state';
import { describeDifference } from '@old-echo/core/phrases/describe-comparison';
import { fullSettingName, sectionName } from '@old-echo/core/phrases/format-value';
import { laneDuration, laneWithSteps, valueAtTime } from '@old-echo/core/signal/automation-lane';
import { compressorCurve, gateCurve } from '@old-echo/core/signal/static-curve';

import { ChangeList } from '../components/change-list';
import { EqChart } from '../components/eq-chart';
import { StaticCurveChart } from '../components/static-curve-chart';
import { AppText } from '../ui/app-text';
import { CurvePair, type Point } from '../ui/curve-chart';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';
import { InsertChains } from './insert-chains';

interface CellDetailProps {
  readonly profile: Profile;
  readonly a: State;
  readonly b: State;
  readonly cell: CellDifference;
}

/** One section of one strip in A and B: its picture where it has one, and every setting that differs. */
export function CellDetail({ profile, a, b, cell }: CellDetailProps) {
  const look = useLook();
  const { strip, section, changes } = cell;
  const [was, now] = [a[strip] ?? {}, b[strip] ?? {}];
  const colours = { was: look.a, now: look.b };
  return (
    <View style={styles.cell} testID={`detail-${strip}/${section}`}>
      <AppText kind="heading">{sectionName(section)}</AppText>
      <AppText tone="second">{describeDifference(profile, b, cell)}</AppText>
      {section === 'eq' || (section === 'preamp' && changes.some(({ key }) => key.includes('lowcut'))) ? (
        <EqChart now={now} was={was} colours={colours} />
      ) : null}
      {section === 'gate' ? (
        <StaticCurveChart of={gateCurve} was={was} now={now} name="Gate, in and out" colours={colours} />
      ) : null}
      {section === 'compressor' ? (
        <StaticCurveChart of={compressorCurve} was={was} now={now} name="Compressor, in and out" colours={colours} />
      ) : null}
      {section === 'inserts' ? <InsertChains was={was} now={now} /> : null}
      {section === 'automation'
        ? changes.map((change) => (
            <View key={change.address}>
              <AppText kind="small" tone="second">
                {fullSettingName(profile, change.address, b)}
              </AppText>
              <LanePicture profile={profile} change={change} />
            </View>
          ))
        : null}
      <ChangeList profile={profile} names={b} changes={section === 'automation' ? [] : changes} plain compared />
    </View>
  );
}

interface LanePictureProps {
  readonly profile: Profile;
  readonly change: SettingChange;
}

const MOMENTS = 120;

/** An automation lane over time. */
function LanePicture({ profile, change: { address, key, was, now } }: LanePictureProps) {
  const look = useLook();
  const spec = specOf(profile, address);
  const [before, after] = [laneWithSteps(key, was), laneWithSteps(key, now)];
  const end = Math.max(1, laneDuration(before), laneDuration(after));
  if (spec?.kind !== 'curve') return null;
  const up = (value: number) => (spec.unit === 'dB' ? dbToPosition(value) : (value - spec.min) / (spec.max - spec.min));
  const points = (lane: typeof before): Point[] =>
    lane.length === 0
      ? []
      : Array.from({ length: MOMENTS + 1 }, (_, i) => [i / MOMENTS, up(valueAtTime(lane, (end * i) / MOMENTS) ?? 0)]);
  const marks = [0.25, 0.5, 0.75].map((at) => [at, `${(end * at).toFixed(0)} s`] as const);
  return (
    <CurvePair
      name="Automation over time"
      was={points(before)}
      now={points(after)}
      across={{ marks }}
      up={{ marks: spec.unit === 'dB' ? [[dbToPosition(0), '0']] : [[0.5, '']] }}
      colours={{ was: look.a, now: look.b }}
      height={96}
    />
  );
}

const styles = StyleSheet.create({ cell: { gap: SPACE.xs } });
