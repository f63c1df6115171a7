import { Pressable, StyleSheet, View } from 'react-native';

import { AppText } from './app-text';
import { TOUCH } from './tokens';
import { useDescription } from './use-description';

interface OptionProps {
  readonly title: string;
  readonly under?: string;
  readonly chosen: boolean;
  readonly onPress: () => void;
}

/** One of several in a sheet. */
export function Option({ title, under, chosen, onPress }: OptionProps) {
  const { control, text } = useDescription();
  return (
    <Pressable
      role="radio"
      aria-checked={chosen}
      aria-label={title}
      {...(under ? control : {})}
      onPress={onPress}
      style={styles.option}
    >
      <AppText kind={chosen ? 'strong' : 'body'}>
        {chosen ? '● ' : '○ '}
        {title}
      </AppText>
      {under ? (
        <View {...text} style={styles.under}>
          <AppText kind="small" tone="second">
            {under}
          </AppText>
        </View>
      ) : null}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  option: { minHeight: TOUCH, justifyContent: 'center' },
  under: { paddingLeft: 19 },
});
