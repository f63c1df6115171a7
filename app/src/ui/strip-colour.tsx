import { Pressable, StyleSheet, View } from 'react-native';

import { AppText } from './app-text';
import { useLook } from './theme';
import { CORNER, SPACE, STRIP_COLOURS, TOUCH } from './tokens';

interface StripColourProps {
  /** What its desk calls it: undefined where its strips have none, and null where nobody has given this one any. */
  readonly name: string | null | undefined;
  readonly small?: boolean;
}

/** The colour of a strip as a short line beside its name, or the room for it. */
export function StripColour({ name, small }: StripColourProps) {
  const look = useLook();
  if (name === undefined) return null;
  const colour = name === null ? undefined : STRIP_COLOURS[name]?.[look.dark ? 'night' : 'day'];
  return (
    <View
      style={[styles.line, small && styles.small, colour !== undefined && { backgroundColor: colour }]}
      testID={colour === undefined ? undefined : 'strip-colour'}
    />
  );
}

interface ColourChoiceProps {
  readonly options: readonly string[];
  readonly value: string;
  readonly onChoose: (name: string) => void;
}

/** Another colour for a strip, by name. */
export function ColourChoice({ options, value, onChoose }: ColourChoiceProps) {
  const look = useLook();
  return (
    <View role="radiogroup" aria-label="Colour" style={styles.choice}>
      {options.map((name) => (
        <Pressable
          key={name}
          role="radio"
          aria-checked={name === value}
          onPress={() => onChoose(name)}
          style={[
            styles.option,
            { borderColor: name === value ? look.ink : look.line },
            name === value && { backgroundColor: look.wash },
          ]}
        >
          <StripColour name={name} />
          <AppText>{name}</AppText>
        </Pressable>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  line: { width: 4, height: 24, borderRadius: 2, marginRight: SPACE.s },
  small: { width: 3, height: 12, marginRight: SPACE.xs },
  choice: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
  option: {
    flexDirection: 'row',
    alignItems: 'center',
    minHeight: TOUCH,
    paddingHorizontal: SPACE.m,
    borderWidth: 1,
    borderRadius: CORNER.small,
  },
});
