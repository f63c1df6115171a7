import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import { venueSettings, keysInHall } from '@old-echo/core/library/venue';
import type { HallView } from '@old-echo/core/contracts/part';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { displayName } from '@old-echo/core/desk/state';
import { plural } from '@old-echo/core/desk/format-value';

import { useLiveDesk, type LiveDesk } from '../store/use-live-desk';
import {
  givenBack,
  useHallsQuery,
  useNewHallMutation,
  usePartsQuery,
  useRemoveHallMutation,
  useTakeHallMutation,
} from '../store/api';
import { Action, Footer } from '../ui/buttons';
import { Field } from '../ui/field';
import { MenuRow } from '../ui/menu';
import { Body, Card, Empty, Header } from '../ui/layout';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { Loading } from '../components/loading';
import { AppText } from '../ui/app-text';
import { useStageSettings } from '../components/use-stage-settings';
import { when } from '../components/format-time';
import { useProduction } from '../components/use-production';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { useShortcuts } from '../ui/use-shortcuts';

/** The halls a production plays in: the same parts, set otherwise in each. */
export function HallsScreen() {
  const { production, loaded } = useProduction();
  const now = useLiveDesk(production?.deskId);
  if (!loaded || (production && !now)) return <Loading what="Opening the halls" />;
  return production && now ? (
    <Halls production={production} now={now} />
  ) : (
    <Empty title="There is no such production">It may have been removed for good.</Empty>
  );
}

function Halls({ production, now }: { readonly production: ProductionView; readonly now: LiveDesk }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: halls = [] } = useHallsQuery(production.id);
  const { data: parts = {} } = usePartsQuery(production.id);
  const [add] = useNewHallMutation();
  const [take] = useTakeHallMutation();
  const [remove] = useRemoveHallMutation();
  const [name, setName] = useState('');
  const [choosing, setChoosing] = useState<HallView | null>(null);
  const { put, busy } = useStageSettings();
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useShortcuts({ Escape: back });
  const count = Object.keys(parts).length;
  const here = now.linked;
  const go = (hall: HallView, only?: readonly string[]) =>
    put({
      deskId: production.deskId,
      title: only
        ? `${displayName(now.profile, now.state, only[0] ?? '')} as in ${hall.name}`
        : `${production.name} in ${hall.name}`,
      settings: venueSettings(hall.settings, parts, only),
    });
  const keys = keysInHall(parts);
  const known = (hall: HallView) =>
    Object.entries(parts).filter(([strip]) => hall.settings[keys[strip] ?? ''] !== undefined);
  return (
    <View style={styles.fill}>
      <Header over={production.name} title="Halls" onBack={back} />
      <Body tight>
        <AppText tone="second">
          Where parts stand in the stereo field, their EQ against the room, and how long effects ring, kept for each
          hall. Choosing a hall previews all of its strips at once.
        </AppText>
        {count === 0 ? (
          <Card edge="care">
            <AppText>Say first what the strips carry: halls are kept by part.</AppText>
            <Action title="Name the parts" onPress={() => router.navigate(`/mixes/${production.id}/parts`)} />
          </Card>
        ) : null}
        {halls.map((hall) => (
          <Card key={hall.id}>
            <View testID={`hall-${hall.name}`} style={styles.hall}>
              <AppText kind="heading">{hall.name}</AppText>
              <AppText tone="second">
                {hall.takenAt
                  ? `${plural(known(hall).length, 'part')}, taken from the desk ${when(hall.takenAt)}`
                  : 'Nothing saved yet: set the desk up there, then save it'}
              </AppText>
              <View style={styles.row}>
                <Action
                  title="Go there"
                  busy={busy}
                  disabled={!hall.takenAt || !here || known(hall).length === 0}
                  onPress={() => go(hall)}
                />
                <Action
                  title="One part …"
                  disabled={!hall.takenAt || !here || known(hall).length === 0}
                  onPress={() => setChoosing(hall)}
                />
              </View>
              <View style={styles.row}>
                <Action
                  kind="quiet"
                  title="Keep the desk as it is now"
                  disabled={!here || count === 0}
                  onPress={() =>
                    void done(take({ production: production.id, id: hall.id }), () => `Kept for ${hall.name}.`, {
                      url: `/productions/${production.id}/halls/${hall.id}/give-back`,
                    })
                  }
                />
                <Action
                  kind="quiet"
                  title="Remove"
                  onPress={() =>
                    void done(
                      remove({ production: production.id, id: hall.id }),
                      () => `${hall.name} was removed.`,
                      givenBack,
                    )
                  }
                />
              </View>
            </View>
          </Card>
        ))}
        <Field label="Another hall" value={name} onChangeText={setName} maxLength={60} />
      </Body>
      <Footer>
        <Action
          kind="main"
          grow
          title="Add this hall"
          disabled={name.trim() === ''}
          onPress={() =>
            void done(add({ production: production.id, name }), () => `${name.trim()} was added.`).then(
              (made) => made && setName(''),
            )
          }
        />
      </Footer>
      <Sheet
        title={choosing ? `Only one part, as in ${choosing.name}` : ''}
        open={choosing !== null}
        onClose={() => setChoosing(null)}
      >
        {choosing
          ? known(choosing).map(([strip, part]) => (
              <MenuRow
                key={strip}
                title={displayName(now.profile, now.state, strip)}
                under={part}
                onPress={() => {
                  setChoosing(null);
                  go(choosing, [strip]);
                }}
              />
            ))
          : null}
      </Sheet>
    </View>
  );
}

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  hall: { gap: SPACE.xs },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
});
