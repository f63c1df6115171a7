import { StyleSheet, View } from 'react-native';

import { Chip } from '../../ui/actions';
import { SPACE } from '../../ui/tokens';
import { Words } from '../../ui/words';

const TIMES = [0, 1, 3, 8, 20];

interface FadePickerProps {
  /** In seconds; 0 for at once. */
  readonly fade: number;
  readonly onChange: (seconds: number) => void;
}

/** Over which time levels move. */
export function FadePicker({ fade, onChange }: FadePickerProps) {
  return (
    <View>
      <Words kind="small" tone="second">
        Levels move
      </Words>
      <View style={styles.picker} role="tablist" aria-label="How levels move">
        {TIMES.map((seconds) => (
          <Chip
            key={seconds}
            title={seconds === 0 ? 'At once' : `${seconds} s`}
            chosen={fade === seconds}
            onPress={() => onChange(seconds)}
          />
        ))}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  picker: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.xs, paddingTop: SPACE.xs },
});
