import { useLocalSearchParams, useRouter } from 'expo-router';
import { StyleSheet, View } from 'react-native';

import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import { IMPORT_ROUTES } from '@old-echo/core/contracts/routes/file-routes';

import { Loading } from '../components/loading';
import { useDesksQuery } from '../store/desk-api';
import { useAppSelector } from '../store/store';
import { useLiveDesk } from '../store/use-live-desk';
import { Action, Footer } from '../ui/buttons';
import { Empty, Header, Split, useIsLow } from '../ui/layout';
import { useRowNavigation, useShortcuts } from '../ui/use-shortcuts';
import { DeskList } from './desk-list';
import { DeskPane } from './desk-pane';
import { HeldMoveSheet } from './held-move-sheet';
import { SidewaysDesk } from './sideways-desk';
import { StripPage } from './strip-page';

/**
 * Desk: what stands on it, its drift, all strips; a strip's own page beside or over it. An address that names no desk
 * means the one that was looked at last.
 */
export function DeskScreen() {
  const { desk: named, strip } = useLocalSearchParams<{ desk?: string; strip?: string }>();
  const router = useRouter();
  const followed = useAppSelector((root) => root.place.deskId);
  const deskId = named ?? followed;
  const now = useLiveDesk();
  const { data: desks } = useDesksQuery();
  const low = useIsLow();
  useRowNavigation('strip');
  const toList = () => router.navigate(`/desk/${deskId}`);
  useShortcuts({ Escape: toList });
  if (desks?.length === 0)
    return (
      <View style={styles.fill}>
        <Header title="Desk" />
        <Empty title="No desk yet">
          Add the desk you work on. Or open an archive: the desk it was made on comes with it, and everything can be
          looked at.
        </Empty>
        <Footer>
          <Action
            asks={DESK_ROUTES.addDesk}
            kind="main"
            grow
            title="Add a desk"
            onPress={() => router.navigate('/add-desk')}
          />
          <Action asks={IMPORT_ROUTES.openFile} title="Open a file" onPress={() => router.navigate('/files')} />
        </Footer>
      </View>
    );
  if (!now || now.desk.id !== deskId) return <Loading what="Reading the desk" />;
  if (low && strip === undefined)
    return (
      <>
        <SidewaysDesk now={now} />
        <HeldMoveSheet />
      </>
    );
  return (
    <>
      <Split
        showDetail={strip !== undefined}
        list={<DeskList now={now} chosen={strip} />}
        detail={
          strip === undefined ? (
            <DeskPane now={now} />
          ) : (
            <StripPage key={strip} now={now} strip={strip} onBack={toList} />
          )
        }
      />
      <HeldMoveSheet />
    </>
  );
}

const styles = StyleSheet.create({ fill: { flex: 1 } });
