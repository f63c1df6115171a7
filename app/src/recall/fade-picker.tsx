import { StyleSheet, View } from 'react-native';

import { FADE_CURVES, type FadeCurve } from '@old-echo/core/recall/fade-curves';

import { AppText } from '../ui/app-text';
import { Chip } from '../ui/buttons';
import { SPACE } from '../ui/tokens';

const TIMES = [0, 1, 3, 8, 20];

const CURVES: Readonly<Record<FadeCurve, string>> = { even: 'Evenly in dB', 'equal power': 'Crossfade, equal power' };

interface FadePickerProps {
  /** In seconds; 0 for at once. */
  readonly fade: number;
  readonly onChange: (seconds: number) => void;
  readonly curve: FadeCurve;
  readonly onCurve: (curve: FadeCurve) => void;
}

/** Over which time levels move, and how what opens and closes does. */
export function FadePicker({ fade, onChange, curve, onCurve }: FadePickerProps) {
  return (
    <View>
      <AppText kind="small" tone="second">
        Fade levels
      </AppText>
      <View style={styles.picker} role="tablist" aria-label="Fade levels">
        {TIMES.map((seconds) => (
          <Chip
            key={seconds}
            title={seconds === 0 ? 'Off' : `${seconds} s`}
            chosen={fade === seconds}
            onPress={() => onChange(seconds)}
          />
        ))}
      </View>
      {fade > 0 ? (
        <View style={styles.picker} role="tablist" aria-label="How mutes and patches fade">
          {FADE_CURVES.map((of) => (
            <Chip key={of} title={CURVES[of]} chosen={curve === of} onPress={() => onCurve(of)} />
          ))}
        </View>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  picker: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.xs, paddingTop: SPACE.xs },
});
