import { StyleSheet, View } from 'react-native';

import { Empty, Header } from '../ui/layout';

interface NeverHeardProps {
  readonly title: string;
  /** The name of the desk. */
  readonly desk: string;
  readonly onBack: (() => void) | undefined;
  /** What waits for it to answer, where that is not a restore. */
  readonly children?: string;
}

/** In the place of what needs a desk that was never heard. */
export function NeverHeard({ title, desk, onBack, children }: NeverHeardProps) {
  return (
    <View style={styles.fill}>
      <Header title={title} onBack={onBack} />
      <Empty title={`${desk} has not been read yet`}>
        {children ?? 'A preview needs the desk’s own values. Once it is connected, this can be prepared.'}
      </Empty>
    </View>
  );
}

const styles = StyleSheet.create({ fill: { flex: 1 } });
