import { useRouter } from 'expo-router';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { ActivityIndicator } from 'react-native-paper';

import type { ApiFault } from '../store/api';
import { useFailedLoad } from '../store/use-failed-load';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Empty } from '../ui/layout';
import { SPACE } from '../ui/tokens';

/**
 * Shown while something loads; stays blank for the first moment, so that quick loads do not flicker. Where it will not come, says
 * why, and what to do.
 */
export function Loading({ what }: { readonly what: string }) {
  const router = useRouter();
  const failed = useFailedLoad();
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), 300);
    return () => clearTimeout(timer);
  }, []);
  if (failed?.again) return <LoadError fault={failed.fault} onAgain={failed.again} />;
  if (failed)
    return (
      <View style={styles.waiting}>
        <Empty title={failed.fault.message}>{failed.fault.advice}</Empty>
        <Action title="To the desk" onPress={() => router.navigate('/desk')} />
      </View>
    );
  return (
    <View style={styles.waiting} role="status">
      {late ? (
        <>
          <ActivityIndicator aria-label={what} />
          <AppText tone="second">{what} …</AppText>
        </>
      ) : null}
    </View>
  );
}

/** Shown in the place of what could not be loaded. */
export function LoadError({ fault, onAgain }: { readonly fault: ApiFault; readonly onAgain: () => void }) {
  return (
    <View style={styles.waiting}>
      <Empty title={fault.message}>{fault.advice}</Empty>
      <Action title="Try again" onPress={onAgain} />
    </View>
  );
}

const styles = StyleSheet.create({
  waiting: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: SPACE.m, padding: SPACE.xl },
});
