import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';

import type { VenueView } from '@old-echo/core/contracts/part';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { VENUE_ROUTES } from '@old-echo/core/contracts/routes/library-routes';
import { displayName } from '@old-echo/core/desk/state';
import { venueKeys, venueSettings } from '@old-echo/core/library/venue';
import { plural } from '@old-echo/core/phrases/format-value';

import { when } from '../components/format-time';
import { Loading } from '../components/loading';
import { useProduction } from '../components/use-production';
import { useStageSettings } from '../components/use-stage-settings';
import { givenBack } from '../store/api';
import { ask } from '../store/ask';
import {
  useAddVenueMutation,
  useCaptureVenueMutation,
  usePartsQuery,
  useRemoveVenueMutation,
  useVenuesQuery,
} from '../store/library-api';
import { type LiveDesk, useLiveDesk } from '../store/use-live-desk';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { AppText } from '../ui/app-text';
import { Action, MainAction } from '../ui/buttons';
import { Field } from '../ui/field';
import { Body, Card, Empty, Header } from '../ui/layout';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';
import { SPACE } from '../ui/tokens';
import { useShortcuts } from '../ui/use-shortcuts';

/** The venues a production plays in: the same parts, set otherwise in each. */
export function VenuesScreen() {
  const { production, loaded } = useProduction();
  const now = useLiveDesk(production?.deskId);
  if (!loaded || (production && !now)) return <Loading what="Loading the venues" />;
  return production && now ? (
    <Venues production={production} now={now} />
  ) : (
    <Empty title="This song or show no longer exists">It may have been deleted for good.</Empty>
  );
}

function Venues({ production, now }: { readonly production: ProductionView; readonly now: LiveDesk }) {
  const router = useRouter();
  const done = useRunAndNotify();
  const { data: venues = [] } = useVenuesQuery(production.id);
  const { data: parts = {} } = usePartsQuery(production.id);
  const [add] = useAddVenueMutation();
  const [take] = useCaptureVenueMutation();
  const [remove] = useRemoveVenueMutation();
  const [name, setName] = useState('');
  const [choosing, setChoosing] = useState<VenueView | null>(null);
  const { put, busy, isAtOnce } = useStageSettings();
  const back = () => router.navigate(`/mixes/${production.id}/about`);
  useShortcuts({ Escape: back });
  const count = Object.keys(parts).length;
  const here = now.linked;
  const go = (venue: VenueView, only?: readonly string[]) =>
    put({
      deskId: production.deskId,
      title: only
        ? `${displayName(now.profile, now.state, only[0] ?? '')} as in ${venue.name}`
        : `${production.name} in ${venue.name}`,
      settings: venueSettings(venue.settings, parts, only),
    });
  const keys = venueKeys(parts);
  const known = (venue: VenueView) =>
    Object.entries(parts).filter(([strip]) => venue.settings[keys[strip] ?? ''] !== undefined);
  return (
    <View style={styles.fill}>
      <Header over={production.name} title="Venues" onBack={back} />
      <Body tight>
        <AppText tone="second">
          Pan, EQ and reverb times of each part, saved per venue. Going to a venue sets all of its strips at once.
        </AppText>
        {count === 0 ? (
          <Card edge="care">
            <AppText>Name the parts first: venues are saved by part.</AppText>
            <Action title="Name the parts" onPress={() => router.navigate(`/mixes/${production.id}/parts`)} />
          </Card>
        ) : null}
        {venues.map((venue) => (
          <Card key={venue.id}>
            <View testID={`venue-${venue.name}`} style={styles.venue}>
              <AppText kind="heading">{venue.name}</AppText>
              <AppText tone="second">
                {venue.capturedAt
                  ? `${plural(known(venue).length, 'part')}, saved from the desk ${when(venue.capturedAt)}`
                  : 'Nothing saved yet. Set up in the venue, then save.'}
              </AppText>
              <View style={styles.row}>
                <Action
                  title={isAtOnce ? 'Apply to all parts' : 'Preview all parts'}
                  busy={busy}
                  disabled={!venue.capturedAt || !here || known(venue).length === 0}
                  onPress={() => go(venue)}
                />
                <Action
                  title="One part …"
                  disabled={!venue.capturedAt || !here || known(venue).length === 0}
                  onPress={() => setChoosing(venue)}
                />
              </View>
              <View style={styles.row}>
                <Action
                  kind="quiet"
                  title="Save the desk for this venue"
                  disabled={!here || count === 0}
                  onPress={() =>
                    void done(
                      take({ production: production.id, id: venue.id }),
                      () => `Saved for ${venue.name}.`,
                      ask(VENUE_ROUTES.undoVenueCapture, { params: { production: production.id, id: venue.id } }),
                    )
                  }
                />
                <Action
                  kind="quiet"
                  title="Remove"
                  onPress={() =>
                    void done(
                      remove({ production: production.id, id: venue.id }),
                      () => `${venue.name} was removed.`,
                      givenBack,
                    )
                  }
                />
              </View>
            </View>
          </Card>
        ))}
        <Field label="New venue" value={name} onChangeText={setName} maxLength={60} />
      </Body>
      <MainAction
        title="Add venue"
        disabled={name.trim() === ''}
        onPress={() =>
          void done(add({ production: production.id, name }), () => `${name.trim()} was added.`).then(
            (made) => made && setName(''),
          )
        }
      />
      <Sheet
        title={choosing ? `One part, as in ${choosing.name}` : ''}
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
  venue: { gap: SPACE.xs },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: SPACE.s },
});
