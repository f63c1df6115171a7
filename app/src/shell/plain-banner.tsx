import { StyleSheet, View } from 'react-native';

import { AppText } from '../ui/app-text';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';

/** Stands on every page that came over a network without TLS. */
export function PlainBanner() {
  const look = useLook();
  return (
    <View role="note" testID="plain-banner" style={[styles.banner, { backgroundColor: look.stop }]}>
      <AppText kind="strong" tone="card">
        Not encrypted
      </AppText>
      <AppText kind="small" tone="card">
        Whoever listens on this network can see and do what you do. Old Echo takes no password here.
      </AppText>
    </View>
  );
}

const styles = StyleSheet.create({
  banner: { paddingHorizontal: SPACE.l, paddingVertical: SPACE.s },
});
