import { useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import type { ChangeView } from '@old-echo/core/contracts/person';

import { when } from '../components/format-time';
import { LoadError, Loading } from '../components/loading';
import { toApiFault } from '../store/api';
import { useChangesInfiniteQuery } from '../store/people-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { Body, Empty, Header } from '../ui/layout';
import { useLook } from '../ui/theme';
import { MAX_TEXT_WIDTH, SPACE } from '../ui/tokens';

/** Who changed what, and from which device, the newest first. */
export function ChangesScreen() {
  const router = useRouter();
  const { data, error, refetch, hasNextPage, fetchNextPage, isFetchingNextPage } = useChangesInfiniteQuery(undefined, {
    refetchOnMountOrArgChange: true,
  });
  const back = () => (router.canGoBack() ? router.back() : router.replace('/people'));
  const changes = data?.pages.flatMap((page) => page.changes);
  if (error) return <LoadError fault={toApiFault(error)} onAgain={() => void refetch()} />;
  if (!changes) return <Loading what="Loading the changes" />;
  return (
    <View style={styles.fill}>
      <Header over="People" title="Who changed what" onBack={back} />
      <Body>
        <View style={styles.column} role="list">
          {changes.map((change) => (
            <Change key={change.id} change={change} />
          ))}
          {changes.length === 0 ? (
            <Empty title="Nothing was changed yet">Every change is listed here, with who made it.</Empty>
          ) : null}
          {hasNextPage ? (
            <Action title="Earlier ones" busy={isFetchingNextPage} onPress={() => void fetchNextPage()} />
          ) : null}
        </View>
      </Body>
    </View>
  );
}

function Change({ change: { at, person, device, does, about } }: { readonly change: ChangeView }) {
  const look = useLook();
  return (
    <View role="listitem" style={[styles.change, { borderColor: look.line }]}>
      <AppText>
        {about ? <AppText kind="strong">{about}: </AppText> : null}
        {does}
      </AppText>
      <AppText kind="small" tone="second">
        {[when(at), person || 'At the machine itself', device].filter(Boolean).join(' · ')}
      </AppText>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  column: { maxWidth: MAX_TEXT_WIDTH, width: '100%', alignSelf: 'center' },
  change: { paddingVertical: SPACE.s, borderBottomWidth: 1 },
});
