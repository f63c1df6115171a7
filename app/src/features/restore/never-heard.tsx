import { StyleSheet, View } from 'react-native';

import { Empty, Head } from '../../ui/page';

export interface NeverHeardProps {
  readonly title: string;
  /** The name of the desk. */
  readonly desk: string;
  readonly onBack: (() => void) | undefined;
}

/** In the place of a restore to a desk that was never heard. */
export function NeverHeard({ title, desk, onBack }: NeverHeardProps) {
  return (
    <View style={styles.fill}>
      <Head title={title} onBack={onBack} />
      <Empty title={`${desk} was never heard yet`}>
        What a restore would do is worked out from what the desk holds. Once it answers, this can be prepared.
      </Empty>
    </View>
  );
}

const styles = StyleSheet.create({ fill: { flex: 1 } });
