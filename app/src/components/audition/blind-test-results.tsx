import { skipToken } from '@reduxjs/toolkit/query';
import dayjs from 'dayjs';
import { StyleSheet, View } from 'react-native';

import { describeBlindTest } from '@old-echo/core/phrases/describe-blind-test';
import { blindTestP } from '@old-echo/core/sound/blind-test';

import { useBlindTestsQuery } from '../../store/sound-api';
import { AppText } from '../../ui/app-text';
import { SPACE } from '../../ui/tokens';
import type { Audition } from './use-audition';

/** The blind tests that were done with this comparison, the newest first. */
export function BlindResults({ audition }: { readonly audition: Audition }) {
  const { a, b } = blindTestKey(audition);
  const { data = [] } = useBlindTestsQuery(a && b ? { a, b } : skipToken);
  if (data.length === 0) return null;
  return (
    <View style={styles.results} testID="blind-results">
      <AppText kind="heading">Blind tests</AppText>
      {data.map(({ id, heard, right, trials, madeAt }) => (
        <View key={id}>
          <AppText>
            {right} of {trials} right (p = {blindTestP(right, trials).toFixed(3)})
          </AppText>
          <AppText kind="small" tone="second">
            {[dayjs(madeAt).format('D MMM HH:mm'), heard].filter(Boolean).join(' · ')}
          </AppText>
          <AppText kind="small" tone="second">
            {describeBlindTest(right, trials)}
          </AppText>
        </View>
      ))}
    </View>
  );
}

/** What a blind test is kept under: scenes by id, and what stands on a desk by its sound. */
export const blindTestKey = ({ a, b, mixA, mixB }: Audition): { readonly a: string; readonly b: string } => ({
  a: a.sceneId ?? mixA.view?.id ?? '',
  b: b.sceneId ?? mixB.view?.id ?? '',
});

const styles = StyleSheet.create({ results: { gap: SPACE.s } });
