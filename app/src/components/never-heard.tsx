import { StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';

import { Empty, Header } from '../ui/layout';
import { ConnectDesk } from './connect-desk';

interface NeverHeardProps {
  readonly title: string;
  readonly desk: DeskView;
  readonly onBack: (() => void) | undefined;
  /** What waits for it to answer, where that is not a restore. */
  readonly children?: string;
}

/** In the place of what needs a desk that was never heard. */
export function NeverHeard({ title, desk, onBack, children }: NeverHeardProps) {
  return (
    <View style={styles.fill}>
      <Header title={title} onBack={onBack} />
      <Empty title={`${desk.name} has not been read yet`}>
        {children ?? 'A preview needs the desk’s own values. Once it is connected, this can be prepared.'}
      </Empty>
      <ConnectDesk desk={desk} />
    </View>
  );
}

const styles = StyleSheet.create({ fill: { flex: 1 } });
