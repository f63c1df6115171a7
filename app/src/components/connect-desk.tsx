import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';

import { deskHref } from '../store/desk-address';
import { Action } from '../ui/buttons';
import { SPACE } from '../ui/tokens';

/** Leads to where one says where a desk is, as long as nobody has. */
export function ConnectDesk({ desk }: { readonly desk: DeskView }) {
  const router = useRouter();
  if (desk.address || desk.removedAt || desk.link.manual) return null;
  return (
    <View style={styles.connect}>
      <Action title={`Connect ${desk.name}`} onPress={() => router.navigate(deskHref(desk.id, 'place'))} />
    </View>
  );
}

const styles = StyleSheet.create({ connect: { padding: SPACE.l } });
