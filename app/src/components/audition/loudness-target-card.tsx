import { StyleSheet, View } from 'react-native';

import type { Loudness } from '@old-echo/core/sound/loudness';
import { EBU_R_128, type LoudnessTarget, type OverTarget, overTarget } from '@old-echo/core/sound/loudness-target';

import { choseTarget, type TargetChoice, type TargetKind } from '../../store/preferences-slice';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { AppText } from '../../ui/app-text';
import { Chip } from '../../ui/buttons';
import { ChipRow } from '../../ui/chip-row';
import { Field } from '../../ui/field';
import { SPACE } from '../../ui/tokens';
import { typedNumber } from '../../ui/typed-number';

const KINDS: readonly (readonly [TargetKind, string])[] = [
  ['none', 'No target'],
  ['EBU R 128', 'EBU R 128'],
  ['own', 'Other'],
];
/** The lowest and highest that make sense, in LUFS and dBTP. */
const [LOWEST, HIGHEST] = [-60, 0];

interface LoudnessTargetCardProps {
  readonly a: Loudness;
  readonly b: Loudness;
}

/** How much each mix is over or under what is asked for where it goes. */
export function LoudnessTargetCard({ a, b }: LoudnessTargetCardProps) {
  const dispatch = useAppDispatch();
  const choice = useAppSelector(({ place }) => place.loudnessTarget);
  const target = targetOf(choice);
  return (
    <View style={styles.card} testID="loudness-target">
      <AppText kind="heading">Loudness target</AppText>
      <ChipRow role="tablist" aria-label="Loudness target">
        {KINDS.map(([kind, title]) => (
          <Chip
            key={kind}
            title={title}
            chosen={choice.kind === kind}
            onPress={() => dispatch(choseTarget({ kind }))}
          />
        ))}
      </ChipRow>
      {choice.kind === 'own' ? (
        <View style={styles.row}>
          <View style={styles.fill}>
            <Field
              label="Loudness, LUFS"
              value={choice.integrated}
              onChangeText={(integrated) => dispatch(choseTarget({ integrated }))}
              error={numberOf(choice.integrated) === undefined}
              testID="target-loudness"
            />
          </View>
          <View style={styles.fill}>
            <Field
              label="True peak at most, dBTP"
              value={choice.truePeak}
              onChangeText={(truePeak) => dispatch(choseTarget({ truePeak }))}
              error={numberOf(choice.truePeak) === undefined}
              testID="target-peak"
            />
          </View>
        </View>
      ) : null}
      {target ? (
        <>
          <Against letter="A" over={overTarget(a, target)} target={target} />
          <Against letter="B" over={overTarget(b, target)} target={target} />
        </>
      ) : choice.kind === 'own' ? (
        <AppText tone="stop">{`Both are numbers from −${-LOWEST} to ${HIGHEST}.`}</AppText>
      ) : null}
    </View>
  );
}

interface AgainstProps {
  readonly letter: 'A' | 'B';
  readonly over: OverTarget;
  readonly target: LoudnessTarget;
}

/** A sentence about one mix. */
function Against({ letter, over, target }: AgainstProps) {
  const isRight = over.isLoudnessRight && over.isPeakRight;
  return (
    <AppText tone={isRight ? 'ink' : 'stop'}>
      <AppText kind="strong" tone={letter === 'A' ? 'a' : 'b'}>
        {letter}
      </AppText>{' '}
      {sentenceOf(over, target)}
    </AppText>
  );
}

function sentenceOf(
  { loudness, isLoudnessRight, peak, isPeakRight, peakAtTarget }: OverTarget,
  target: LoudnessTarget,
): string {
  if (loudness === null || peak === null || peakAtTarget === null) return 'is silent.';
  const words = [
    isLoudnessRight
      ? `is within ${target.tolerance.toFixed(1)} LU of ${shown(target.integrated)} LUFS`
      : `is ${Math.abs(loudness).toFixed(1)} LU ${loudness > 0 ? 'over' : 'under'} ${shown(target.integrated)} LUFS`,
    isPeakRight ? `its peak fits` : `its peak is ${peak.toFixed(1)} dB over ${shown(target.truePeak)} dBTP`,
  ];
  // Turned up it may not fit any more.
  const turned =
    !isLoudnessRight && peakAtTarget > 0
      ? ` Turned to the target, its peak would be ${peakAtTarget.toFixed(1)} dB over.`
      : '';
  return `${words.join(', and ')}.${turned}`;
}

const shown = (value: number): string => `${value < 0 ? '−' : ''}${Math.abs(value)}`;

function targetOf({ kind, integrated, truePeak }: TargetChoice): LoudnessTarget | undefined {
  if (kind === 'none') return undefined;
  if (kind === 'EBU R 128') return EBU_R_128;
  const [loudness, peak] = [numberOf(integrated), numberOf(truePeak)];
  return loudness === undefined || peak === undefined
    ? undefined
    : { integrated: loudness, truePeak: peak, tolerance: EBU_R_128.tolerance };
}

/** What was typed as a number of dB; undefined for what is none, or none that makes sense. */
function numberOf(text: string): number | undefined {
  const value = text.trim() === '' ? NaN : Number(typedNumber(text));
  return value >= LOWEST && value <= HIGHEST ? value : undefined;
}

const styles = StyleSheet.create({
  card: { gap: SPACE.s },
  row: { flexDirection: 'row', gap: SPACE.s },
  fill: { flex: 1, minWidth: 0 },
});
