import { skipToken } from '@reduxjs/toolkit/query';
import { useRouter } from 'expo-router';
import { Pressable, StyleSheet } from 'react-native';

import { deskHref } from '../store/desk-address';
import { useRestoreQuery } from '../store/recall-api';
import { useAppSelector } from '../store/store';
import { AppText } from '../ui/app-text';
import { Card } from '../ui/layout';
import { SPACE } from '../ui/tokens';

const WORDS = {
  running: ['Restore running', 'Tap to watch.'],
  walk: ['Walk not ended', 'Tap to go on setting by hand what is left.'],
  incomplete: ['Last restore incomplete', 'Tap to see what is not confirmed, to finish or roll back.'],
  cancelled: ['Last restore stopped', 'Tap to see how far it came, to finish or roll back.'],
  interrupted: ['Last restore interrupted', 'Old Echo stopped during it. Tap to finish or roll back.'],
} as const;

/** Says on the desk that its last restore did not end as it should, and leads to it. */
export function UnfinishedRestoreCard() {
  const router = useRouter();
  const id = useAppSelector((root) => root.live.desk?.lastRestoreId);
  const { data: restore } = useRestoreQuery(id ?? skipToken);
  if (!restore || restore.id !== id || restore.status === 'confirmed' || restore.status === 'rolled back') return null;
  const [title, under] = WORDS[restore.status];
  return (
    <Pressable
      role="button"
      testID="unfinished"
      onPress={() => router.navigate(deskHref(restore.deskId, `restores/${restore.id}`))}
      style={styles.card}
    >
      <Card edge={restore.status === 'running' || restore.status === 'walk' ? 'care' : 'stop'}>
        <AppText kind="strong">{title}</AppText>
        <AppText kind="small" tone="second">
          {under}
        </AppText>
      </Card>
    </Pressable>
  );
}

const styles = StyleSheet.create({ card: { marginHorizontal: SPACE.l, marginTop: SPACE.m } });
