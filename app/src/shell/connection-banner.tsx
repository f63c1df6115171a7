import { type Href, useRouter } from 'expo-router';
import { Pressable, StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';

import { heardAt } from '../components/heard-at';
import { deskHref } from '../store/desk-address';
import { useAppSelector } from '../store/store';
import { AppText } from '../ui/app-text';
import { useLook } from '../ui/theme';
import { SPACE, TOUCH } from '../ui/tokens';

/** Says at once that the server or the desk is not heard, on every screen. Says nothing while all is well. */
export function ConnectionBanner() {
  const look = useLook();
  const router = useRouter();
  const { heard, isLost, desk, deskId } = useAppSelector((root) => root.live);
  if (!deskId || (!heard && !isLost)) return null;
  const seen = desk?.heardAt
    ? `Values shown are as last read ${heardAt(desk.heardAt)}.`
    : 'It has not been read yet, so nothing is shown.';
  const way = heard && desk ? wayTo(desk) : undefined;
  const words = !heard
    ? [
        'Can’t reach the server. Check that it is running.',
        `Reconnecting. Nothing can be sent until then. ${desk?.heardAt ? seen : 'What is shown is as it was last read.'}`,
      ]
    : desk?.link.state === 'unlinked'
      ? [desk.link.why, `Nothing can be sent or captured${way ? '' : '; it reconnects by itself'}. ${seen}`]
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
      {way ? (
        <Pressable role="button" style={styles.way} onPress={() => router.navigate(way.href)}>
          <AppText kind="strong" tone="card" style={styles.link}>
            {way.title}
          </AppText>
        </Pressable>
      ) : null}
    </View>
  );
}

/** Where a person has to do something before the desk can be reached. */
function wayTo({ id, address, removedAt }: DeskView): { readonly title: string; readonly href: Href } | undefined {
  if (removedAt) return { title: 'Bring it back in the settings', href: '/settings' };
  return address === '' ? { title: 'Say where it is', href: deskHref(id, 'place') } : undefined;
}

const styles = StyleSheet.create({
  banner: { paddingHorizontal: SPACE.l, paddingVertical: SPACE.s },
  way: { minHeight: TOUCH, justifyContent: 'center', alignSelf: 'flex-start' },
  link: { textDecorationLine: 'underline' },
});
