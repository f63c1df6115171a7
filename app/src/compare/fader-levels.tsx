import { StyleSheet, View } from 'react-native';

import { type Profile, stripFamily } from '@old-echo/core/desk/profile';
import { isNumberSpec, isOff } from '@old-echo/core/desk/setting';
import { displayName, type State } from '@old-echo/core/desk/state';
import { formatValue } from '@old-echo/core/phrases/format-value';

import { AppText } from '../ui/app-text';
import { EchoBar } from '../ui/echo-bar';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';

interface LevelsProps {
  readonly profile: Profile;
  readonly a: State;
  readonly b: State;
  readonly strips: readonly string[];
}

/** The faders of strips on one scale: the echo is A, solid is B. */
export function Levels({ profile, a, b, strips }: LevelsProps) {
  const look = useLook();
  return (
    <View testID="levels">
      <AppText kind="small" tone="second">
        Faders that are up: dashed is A, solid is B.
      </AppText>
      {strips.map((strip) => {
        const family = stripFamily(profile, strip);
        const spec = family?.settings['fader/level'];
        const [was, now] = [a[strip]?.['fader/level'], b[strip]?.['fader/level']];
        if (!spec || !isNumberSpec(spec) || (isOff(spec, was) && isOff(spec, now))) return null;
        const muted = b[strip]?.['mute/on'] === true;
        return (
          <View key={strip} style={styles.row}>
            <AppText
              kind="small"
              numberOfLines={1}
              tone={was === now ? 'second' : 'ink'}
              style={[styles.name, muted && styles.struck]}
            >
              {displayName(profile, b, strip)}
            </AppText>
            <View style={styles.line}>
              <EchoBar spec={spec} was={Number(was)} now={Number(now)} colours={{ was: look.a, now: look.b }} />
            </View>
            <AppText kind="value" tone={was === now ? 'second' : 'a'} style={styles.value}>
              {formatValue(spec, was, false)}
            </AppText>
            <AppText kind="value" tone={was === now ? 'second' : 'b'} style={styles.value}>
              {formatValue(spec, now, false)}
            </AppText>
          </View>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', gap: SPACE.xs, minHeight: 28 },
  name: { width: 96 },
  struck: { textDecorationLine: 'line-through' },
  line: { flex: 1 },
  value: { width: 52, textAlign: 'right' },
});
