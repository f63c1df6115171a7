import { Pressable, StyleSheet, View } from 'react-native';

import { TOUCH } from './tokens';
import { Words } from './app-text';

interface OptionProps {
  readonly title: string;
  readonly under?: string;
  readonly chosen: boolean;
  readonly onPress: () => void;
}

/** One of several in a sheet. */
export function Option({ title, under, chosen, onPress }: OptionProps) {
  return (
    <Pressable role="radio" aria-checked={chosen} aria-label={title} onPress={onPress} style={styles.option}>
      <Words kind={chosen ? 'strong' : 'body'}>
        {chosen ? '● ' : '○ '}
        {title}
      </Words>
      {under ? (
        <View style={styles.under}>
          <Words kind="small" tone="second">
            {under}
          </Words>
        </View>
      ) : null}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  option: { minHeight: TOUCH, justifyContent: 'center' },
  under: { paddingLeft: 19 },
});
