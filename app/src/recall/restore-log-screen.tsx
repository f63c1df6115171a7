import { useLocalSearchParams, useRouter } from 'expo-router';
import { FlatList, Pressable, StyleSheet, View } from 'react-native';

import { restoredName, type RestoreStatus, type RestoreView } from '@old-echo/core/contracts/restore';
import { describeConfirmation } from '@old-echo/core/phrases/describe-confirmation';
import { plural } from '@old-echo/core/phrases/format-value';

import { when } from '../components/format-time';
import { Loading } from '../components/loading';
import { deskHref } from '../store/desk-address';
import { useDesksQuery } from '../store/desk-api';
import { useRestoreLogInfiniteQuery } from '../store/recall-api';
import { AppText } from '../ui/app-text';
import { Action } from '../ui/buttons';
import { useFocusTarget } from '../ui/focus-registry';
import { Empty, Header } from '../ui/layout';
import { NameLines } from '../ui/name-lines';
import { useLook } from '../ui/theme';
import { ROW, SPACE } from '../ui/tokens';
import { useRowNavigation, useShortcuts } from '../ui/use-shortcuts';

/** Every restore of a desk, the newest first: who, what, how it ended; each leads to its report and its way back. */
export function LogScreen() {
  const { desk } = useLocalSearchParams<{ desk: string }>();
  const router = useRouter();
  const { data, hasNextPage, fetchNextPage, isFetching } = useRestoreLogInfiniteQuery(desk);
  const { data: desks } = useDesksQuery();
  const back = () => router.navigate(`/desk/${desk}`);
  useShortcuts({ Escape: back });
  useRowNavigation('restore');
  const of = desks?.find(({ id }) => id === desk);
  if (!data || (desks && !of)) return <Loading what="Loading the restore log" />;
  const restores = data.pages.flatMap((page) => page.restores);
  return (
    <View style={styles.fill}>
      <Header over={of?.name} title="Restore log" onBack={back} />
      <FlatList
        style={styles.fill}
        data={restores}
        keyExtractor={(restore) => restore.id}
        renderItem={({ item }) => (
          <Row restore={item} onOpen={() => router.navigate(deskHref(desk, `restores/${item.id}`))} />
        )}
        ListEmptyComponent={<Empty title="No restores yet">Every restore to this desk is listed here.</Empty>}
        ListFooterComponent={
          hasNextPage ? (
            <Action kind="quiet" title="Older" busy={isFetching} onPress={() => void fetchNextPage()} />
          ) : null
        }
      />
    </View>
  );
}

/** How each end is told, and in which tone. */
const ENDS: Readonly<Record<RestoreStatus, readonly [words: string, tone: 'done' | 'care' | 'stop']>> = {
  running: ['running', 'care'],
  walk: ['being set by hand', 'care'],
  confirmed: ['all confirmed', 'done'],
  incomplete: ['incomplete', 'stop'],
  cancelled: ['stopped', 'care'],
  'rolled back': ['rolled back', 'care'],
  interrupted: ['interrupted', 'stop'],
};

function Row({ restore, onOpen }: { readonly restore: RestoreView; readonly onOpen: () => void }) {
  const look = useLook();
  const target = useFocusTarget('restore');
  const { status, changes, report, answered, by, startedAt, recall } = restore;
  const [words, tone] = ENDS[status];
  const end = status === 'confirmed' ? describeConfirmation({ report }).toLowerCase() : words;
  const told = [
    when(startedAt),
    by,
    plural(changes, 'setting'),
    answered.length > 0 ? `${plural(answered.length, 'caution')} answered` : '',
    report
      ? report.milliseconds < 1000
        ? `${report.milliseconds} ms`
        : `${(report.milliseconds / 1000).toFixed(1)} s`
      : '',
  ].filter(Boolean);
  const what = recall.resume ? `To ${recall.resume.how}: ` : '';
  return (
    <Pressable
      role="link"
      ref={target}
      testID={`restore-row-${restore.id}`}
      onPress={onOpen}
      style={[styles.row, { borderColor: look.line }]}
    >
      <NameLines name={`${what}${restoredName(restore)}`} under={told.join(' · ')} />
      <AppText kind="small" tone={tone}>
        {end}
      </AppText>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: SPACE.s,
    minHeight: ROW + SPACE.s,
    paddingHorizontal: SPACE.l,
    borderBottomWidth: 1,
  },
});
