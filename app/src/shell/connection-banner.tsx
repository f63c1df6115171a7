import { StyleSheet, View } from 'react-native';

import { heardAt } from '../components/heard-at';
import { useAppSelector } from '../store/store';
import { AppText } from '../ui/app-text';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';

/** Says at once that the server or the desk is not heard, on every screen. Says nothing while all is well. */
export function ConnectionBanner() {
  const look = useLook();
  const { heard, isLost, desk, deskId } = useAppSelector((root) => root.live);
  if (!deskId || (!heard && !isLost)) return null;
  const seen = desk?.heardAt
    ? `Values shown are as last read ${heardAt(desk.heardAt)}.`
    : 'It has not been read yet, so nothing is shown.';
  const words = !heard
    ? [
        'Can’t reach the server. Check that it is running.',
        `Reconnecting. Nothing can be sent until then. ${desk?.heardAt ? seen : 'What is shown is as it was last read.'}`,
      ]
    : desk?.link.state === 'unlinked'
      ? [desk.link.why, `Nothing can be sent or captured; it reconnects by itself. ${seen}`]
      : undefined;
  if (!words) return null;
  return (
    <View role="alert" testID="link-banner" style={[styles.banner, { backgroundColor: look.stop }]}>
      <AppText kind="strong" tone="card">
        {words[0]}
      </AppText>
      <AppText kind="small" tone="card">
        {words[1]}
      </AppText>
    </View>
  );
}

const styles = StyleSheet.create({ banner: { paddingHorizontal: SPACE.l, paddingVertical: SPACE.s } });
