import dayjs from 'dayjs';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useRef, useState } from 'react';
import { FlatList, StyleSheet, View } from 'react-native';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { DESK_ROUTES } from '@old-echo/core/contracts/routes/desk-routes';
import type { LoggedMessage } from '@old-echo/core/desk/logged-message';
import type { Profile } from '@old-echo/core/desk/profile';
import { wireArguments, wireMeaning } from '@old-echo/core/phrases/describe-wire';

import { FaultBelow } from '../components/fault-card';
import { Loading } from '../components/loading';
import { addressOf } from '../store/ask';
import { deskHref } from '../store/desk-address';
import { useDesksQuery, useProfileQuery } from '../store/desk-api';
import { AppText } from '../ui/app-text';
import { Action, Chip, Footer } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { Empty, Header } from '../ui/layout';
import { SearchField } from '../ui/search-field';
import { useLook } from '../ui/theme';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';
import { useWireMessages } from './use-wire-messages';

/** What goes over the wire to a desk and back, for whoever sets it up. */
export function WireScreen() {
  const { desk: id } = useLocalSearchParams<{ desk: string }>();
  const { data: desks } = useDesksQuery();
  const desk = desks?.find((one) => one.id === id);
  const { data: profile } = useProfileQuery(desk?.profileId ?? '', { skip: !desk });
  if (desks && !desk) return <Empty title="This desk no longer exists">Choose another in the settings.</Empty>;
  if (!desk || !profile) return <Loading what="Loading the desk" />;
  return <Monitor key={id} desk={desk} profile={profile} />;
}

function Monitor({ desk, profile }: { readonly desk: DeskView; readonly profile: Profile }) {
  const router = useRouter();
  const [paused, setPaused] = useState(false);
  const [everything, setEverything] = useState(false);
  const [wanted, setWanted] = useState('');
  const { all, news, error } = useWireMessages(desk.id, paused);
  const list = useRef<FlatList<LoggedMessage>>(null);
  const isAtEnd = useRef(true);
  const back = () => router.navigate(deskHref(desk.id, 'place'));
  const pause = () => setPaused(!paused);
  useShortcuts({ Escape: back, p: pause });
  if (!all) return error ? <FaultBelow error={error} /> : <Loading what="Listening" />;
  const isWanted = (message: LoggedMessage) =>
    `${message.address} ${wireArguments(message)} ${wireMeaning(message, profile)}`
      .toLowerCase()
      .includes(wanted.trim().toLowerCase());
  const messages = (everything ? all : news).filter((message) => wanted.trim() === '' || isWanted(message));
  return (
    <View style={styles.fill}>
      <Header over={desk.name} title="On the wire" onBack={back} />
      <View style={styles.bar}>
        <SearchField placeholder="Address, value or setting" value={wanted} onChange={setWanted} />
        <ChipRow role="tablist" aria-label="Messages">
          <Chip title="What changes" chosen={!everything} onPress={() => setEverything(false)} />
          <Chip title="Every message" chosen={everything} onPress={() => setEverything(true)} />
        </ChipRow>
      </View>
      <FlatList
        ref={list}
        role="log"
        aria-label="Messages"
        // Nothing in it takes the keyboard, which has to scroll it all the same.
        tabIndex={0}
        style={styles.fill}
        data={messages}
        keyExtractor={({ packet, address, args }) => `${packet}${address}${args.join()}`}
        renderItem={({ item }) => <Row message={item} profile={profile} />}
        // It goes along with what comes as long as one looks at the end.
        onScroll={({ nativeEvent: { contentOffset, contentSize, layoutMeasurement } }) => {
          isAtEnd.current = contentOffset.y + layoutMeasurement.height >= contentSize.height - ROW_HEIGHT;
        }}
        onContentSizeChange={() => isAtEnd.current && list.current?.scrollToEnd({ animated: false })}
        ListEmptyComponent={
          <Empty title={wanted.trim() === '' ? 'Nothing has changed yet' : 'No such message'}>
            {wanted.trim() === ''
              ? 'Move a control on the desk: what it sends is shown here, and what it means.'
              : 'Another word, or every message, may show more.'}
          </Empty>
        }
      />
      <FaultBelow error={error} />
      <Footer>
        <Action kind="main" grow title={paused ? 'Go on' : 'Pause'} onPress={pause} />
        <Action
          title="Save as a table"
          onPress={() => window.location.assign(addressOf(DESK_ROUTES.exportWire, { params: { id: desk.id } }))}
        />
      </Footer>
    </View>
  );
}

function Row({ message, profile }: { readonly message: LoggedMessage; readonly profile: Profile }) {
  const look = useLook();
  const meaning = wireMeaning(message, profile);
  const isFrom = message.way === 'from the desk';
  return (
    <View style={[styles.row, { borderColor: look.line }]}>
      <View style={styles.line}>
        <AppText kind="value" tone="second">
          {dayjs(message.at).format('HH:mm:ss.SSS')}
        </AppText>
        <AppText kind="value" tone={isFrom ? 'done' : 'second'} aria-label={message.way}>
          {isFrom ? '←' : '→'}
        </AppText>
        <AppText kind="value" numberOfLines={1} style={styles.fill}>
          {message.address || 'Not OSC'} {wireArguments(message)}
        </AppText>
      </View>
      <AppText kind="small" tone="second" numberOfLines={1}>
        {meaning || (isFrom ? 'Not one of its settings' : 'A question, or about the link')}
      </AppText>
    </View>
  );
}

const ROW_HEIGHT = 52;

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  bar: { gap: SPACE.s, padding: SPACE.l },
  row: {
    height: ROW_HEIGHT,
    justifyContent: 'center',
    gap: SPACE.xs,
    paddingHorizontal: SPACE.l,
    borderBottomWidth: 1,
  },
  line: { flexDirection: 'row', gap: SPACE.s },
});
