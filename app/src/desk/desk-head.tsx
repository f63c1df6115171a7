import { useRouter } from 'expo-router';
import type { ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';

import { useDeskProduction } from '../components/use-desk-production';
import type { LiveDesk } from '../store/use-live-desk';
import { AppText } from '../ui/app-text';
import { Header } from '../ui/layout';
import { SearchButton } from '../ui/search-field';
import { OthersHere } from './others-here';
import { ShowLock } from './show-lock';

interface DeskHeadProps {
  readonly now: LiveDesk;
  readonly onSearch?: () => void;
  readonly searching?: boolean;
  /** In the place of the song or show that it is on. */
  readonly under?: string;
  readonly side?: ReactNode;
}

/** The desk by its name, with what it is on and whether it answers. */
export function DeskHead({ now, onSearch, searching = false, under, side }: DeskHeadProps) {
  const router = useRouter();
  const { desk, linked } = now;
  const production = useDeskProduction(desk);
  const version = production?.versions.find((v) => v.id === desk.scene?.versionId);
  const link = linked
    ? desk.link.manual
      ? 'By hand'
      : 'Connected'
    : desk.link.state === 'reading'
      ? 'Reading'
      : 'Not connected';
  return (
    <Header
      title={desk.name}
      onTitle={() => router.navigate('/settings')}
      under={under ?? [production?.name, version?.name].filter(Boolean).join(' · ')}
      side={
        <>
          <View style={styles.state}>
            <AppText kind="strong" tone={linked ? 'done' : 'stop'} testID="link-state">
              {linked ? '●' : '○'} {link}
            </AppText>
            <AppText kind="small" tone={desk.mode === 'live' ? 'stop' : 'second'}>
              {desk.mode === 'live' ? 'Live' : 'Studio'}
            </AppText>
          </View>
          <OthersHere />
          <ShowLock desk={desk} />
          {onSearch ? <SearchButton what="strips" open={searching} onPress={onSearch} /> : null}
          {side}
        </>
      }
    />
  );
}

const styles = StyleSheet.create({ state: { alignItems: 'flex-end' } });
