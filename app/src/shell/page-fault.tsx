import { usePathname, useRouter } from 'expo-router';
import type { ReactNode } from 'react';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { StyleSheet, View } from 'react-native';

import { Action } from '../ui/buttons';
import { Empty, Header } from '../ui/layout';
import { SPACE } from '../ui/tokens';

/** Around every page: where one goes wrong, what is around it stays, and says so; another page begins anew. */
export const PageFaults = ({ children }: { readonly children: ReactNode }) => (
  <ErrorBoundary FallbackComponent={PageFault} resetKeys={[usePathname()]}>
    {children}
  </ErrorBoundary>
);

function PageFault({ resetErrorBoundary }: FallbackProps) {
  const router = useRouter();
  return (
    <View style={styles.fill}>
      <Header title="This page went wrong" />
      <Empty title="This page cannot be shown">
        It is a fault of the program, and touches neither the desk nor what is saved. A restore that runs goes on.
      </Empty>
      <View style={styles.ways}>
        <Action kind="main" title="Show it again" onPress={resetErrorBoundary} />
        <Action title="To the desk" onPress={() => router.navigate('/desk')} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  ways: { flexDirection: 'row', alignSelf: 'center', gap: SPACE.s, padding: SPACE.l },
});
