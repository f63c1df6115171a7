import { usePathname, useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import { Action } from '../ui/buttons';
import { Empty, Header } from '../ui/layout';
import { SPACE } from '../ui/tokens';

/** An address that leads nowhere: a link cut short, or typed by hand. */
export function NothingHere() {
  const router = useRouter();
  const back = () => router.navigate('/desk');
  return (
    <View style={styles.fill}>
      <Header title="No such page" onBack={back} />
      <Empty title="There is no such page">{`${usePathname()} may be incomplete. Nothing was changed.`}</Empty>
      <View style={styles.way}>
        <Action kind="main" title="To the desk" onPress={back} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  way: { alignSelf: 'center', padding: SPACE.l },
});
